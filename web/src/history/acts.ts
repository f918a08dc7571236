// What has been done to a chart.
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { answer, client } from '../api/client.ts'
import { type KpiPath, keys } from '../api/keys.ts'

/** What has been done to a chart, newest first; `before` is a number of an act. */
export function useActs(path: KpiPath, before: number | null) {
  return useQuery({
    queryKey: keys.acts(path, before),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/history', {
          params: { path, query: before === null ? {} : { before } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  })
}
