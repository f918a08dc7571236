// What is due, from the server; how typed values stand, and the way to save them.
import { keepPreviousData, useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys, renew } from '../api/keys.ts'

export type DueValue = Schemas['DueValue']
export type ValueCheck = Schemas['ValueCheck']
export type Row = Schemas['FilledRowRequest']

const base = '/api/v1/workspaces/{workspace}/fill-in' as const

/** All that is due, in stretches. */
export function useDue(workspace: string) {
  return useInfiniteQuery({
    queryKey: keys.due(workspace, 'all'),
    queryFn: ({ pageParam, signal }) =>
      answer(
        client.GET(base, { params: { path: { workspace }, query: { start: pageParam } }, signal }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last) =>
      last.start + last.kpis < last.count ? last.start + last.kpis : undefined,
    // What is being typed stays where it is: news of others come when they are asked for.
    refetchOnWindowFocus: false,
  })
}

/** How many KPIs wait for a value. */
export function useDueCount(workspace: string) {
  return useQuery({
    queryKey: keys.due(workspace, 'count'),
    queryFn: ({ signal }) =>
      answer(client.GET(base, { params: { path: { workspace }, query: { most: 0 } }, signal })),
    staleTime: 5 * 60_000,
  })
}

export type Asked = Schemas['TypedRequest']

/** How values that are being typed stand to the limits, in their order. */
export function useChecks(workspace: string, rows: Asked[]) {
  return useQuery({
    queryKey: keys.checks(workspace, rows),
    queryFn: ({ signal }) =>
      answer(
        client.POST(`${base}/judge`, { params: { path: { workspace } }, body: { rows }, signal }),
      ),
    enabled: rows.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  })
}

/** Saves values together. */
export const send = (workspace: string, rows: Row[]) =>
  answer(client.POST(base, { params: { path: { workspace } }, body: { rows } }))

/** Makes a member see to a KPI, or nobody. */
export function useFillBy(workspace: string) {
  const queries = useQueryClient()
  return async (kpi: string, username: string | null) => {
    const body = { kpis: [kpi], username }
    await answer(client.POST(`${base}/by`, { params: { path: { workspace } }, body }))
    await queries.invalidateQueries({ queryKey: keys.due(workspace) })
  }
}

export function useRenewed(workspace: string) {
  const queries = useQueryClient()
  return () => renew.afterImport(queries, workspace)
}
