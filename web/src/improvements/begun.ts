// The improvements of a workspace, or on one KPI, as its chart marks them.
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { answer, client } from '../api/client.ts'
import { type KpiPath, keys } from '../api/keys.ts'

const base = '/api/v1/workspaces/{workspace}/improvements' as const

export function useImprovements(workspace: string, kpi?: string) {
  return useQuery({
    queryKey: keys.improvements(workspace, kpi),
    queryFn: ({ signal }) =>
      answer(
        client.GET(base, { params: { path: { workspace }, query: kpi ? { kpi } : {} }, signal }),
      ),
  })
}

/** The improvements on a KPI, as its chart marks them. */
export function useBegun({ workspace, kpi }: KpiPath) {
  const found = useImprovements(workspace, kpi)
  return useMemo(
    () =>
      (found.data?.improvements ?? []).map(({ id, name, began, aims }) => ({
        id,
        name,
        began,
        says: aims.find((aim) => aim.kpi === kpi)?.says ?? '',
      })),
    [found.data, kpi],
  )
}
