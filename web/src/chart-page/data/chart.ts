// A KPI's chart from the server, as it is saved.
import { useQuery } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../../api/client.ts'
import { type KpiPath, keys } from '../../api/keys.ts'

export type { KpiPath }
export type Chart = Schemas['Chart']
export type SavedChart = Schemas['SavedChart']
export type Settings = Schemas['PatchedChartSettingsRequest']
export type SegmentSettings = Schemas['SegmentSettingsRequest']
export type Review = NonNullable<SegmentSettings['review']>

/** Which periods are shown, and how many pixels there are for them. */
export interface View {
  first?: string
  last?: string
  /** The newest weeks alone. */
  weeks?: number
  /** A grain coarser than the stored one. */
  by?: Schemas['Grain']
  /** The one breakdown that is shown. */
  breakdown?: string
  width: number
}

export function useChart(path: KpiPath, view: View) {
  return useQuery({
    queryKey: keys.chart(path, view),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/analysis', {
          params: { path, query: view },
          signal,
        }),
      ),
    // Another stretch of the same chart may show while it loads; another chart may not.
    placeholderData: (before, query) =>
      query?.queryKey[2] === path.kpi && query.queryKey[1] === path.workspace ? before : undefined,
  })
}
