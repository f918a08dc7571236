import { useInfiniteQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'

export type KpiRow = Schemas['KpiRow']

/** The KPIs of a workspace, as the rail shows them: the first ones at once, the others as they come. */
export function useKpis(workspace: string) {
  const found = useInfiniteQuery({
    queryKey: keys.kpis(workspace),
    queryFn: ({ pageParam: start, signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis', {
          params: { path: { workspace }, query: { start } },
          signal,
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: ({ count, start, kpis }) => {
      const next = start + kpis.length
      return kpis.length && next < count ? next : undefined
    },
    select: ({ pages }) => pages.flatMap((page) => page.kpis),
  })
  const { hasNextPage, isFetching, isError, fetchNextPage } = found
  useEffect(() => {
    // Many parts of a screen ask for them; the first of these to see that there are more fetches.
    if (hasNextPage && !isFetching && !isError) void fetchNextPage({ cancelRefetch: false })
  }, [hasNextPage, isFetching, isError, fetchNextPage])
  return found
}
