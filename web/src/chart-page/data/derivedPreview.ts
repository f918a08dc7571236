// What a KPI would be that is made from others.
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../../api/client.ts'
import { type KpiPath, keys } from '../../api/keys.ts'

export type MadeFrom = Schemas['MadeFromRequest']

const derivation = '/api/v1/workspaces/{workspace}/kpis/{kpi}/derivation' as const

/** What would be made; null asks nothing. */
export function useDerivedPreview(path: KpiPath, asked: MadeFrom | null) {
  return useQuery({
    queryKey: keys.derivedPreview(path, asked),
    queryFn: ({ signal }) =>
      answer(
        client.POST(`${derivation}/preview`, {
          params: { path },
          body: asked ?? { made_by: 'ratio' },
          signal,
        }),
      ),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    retry: false,
  })
}
