// The KPIs that a person keeps at hand, at the top of the rail.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client } from '../api/client.ts'
import { type KpiPath, keys } from '../api/keys.ts'
import { notifyProblem } from './notifications.tsx'

const NONE: readonly string[] = []

/** The slugs of what is kept at hand, in the order it was taken there. */
export function useFavorites(workspace: string): readonly string[] {
  const found = useQuery({
    queryKey: keys.favorites(workspace),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/favorites', {
          params: { path: { workspace } },
          signal,
        }),
      ),
  })
  return found.data?.slugs ?? NONE
}

/** Keeps a KPI at hand, or lets go of it: at once to the eye. */
export function useKeepAtHand(path: KpiPath) {
  const cache = useQueryClient()
  const key = keys.favorites(path.workspace)
  return useMutation({
    mutationFn: (kept: boolean) => {
      const address = '/api/v1/workspaces/{workspace}/kpis/{kpi}/favorite' as const
      const params = { params: { path } }
      return answer(kept ? client.PUT(address, params) : client.DELETE(address, params))
    },
    onMutate: async (kept) => {
      await cache.cancelQueries({ queryKey: key })
      const before = cache.getQueryData<{ slugs: string[] }>(key)
      const others = before?.slugs.filter((slug) => slug !== path.kpi) ?? []
      cache.setQueryData(key, { slugs: kept ? [...others, path.kpi] : others })
      return before
    },
    onSuccess: (now) => cache.setQueryData(key, now),
    onError: (error, _, before) => {
      cache.setQueryData(key, before)
      notifyProblem(error)
    },
  })
}
