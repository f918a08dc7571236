import { useQuery } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'

export type KpiRow = Schemas['KpiRow']

export const kpisKey = (workspace: string) => ['kpis', workspace]

/** The KPIs of a workspace, as the rail shows them. */
export function useKpis(workspace: string) {
  return useQuery({
    queryKey: kpisKey(workspace),
    queryFn: () =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis', { params: { path: { workspace } } }),
      ),
  })
}
