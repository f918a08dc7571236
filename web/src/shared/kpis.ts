import { useQuery } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'

export type KpiRow = Schemas['KpiRow']

/** The KPIs of a workspace, as the rail shows them. */
export function useKpis(workspace: string) {
  return useQuery({
    queryKey: keys.kpis(workspace),
    queryFn: () =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis', { params: { path: { workspace } } }),
      ),
  })
}
