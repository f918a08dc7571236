// What a KPI would be that is made from others.
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../../api/client.ts'
import { keys, type Place } from '../../api/keys.ts'

export type MadeFrom = Schemas['MadeFromRequest']

const derivation = '/api/v1/workspaces/{workspace}/kpis/{kpi}/derivation' as const

/** What would be made; null asks nothing. */
export function useDerivedPreview(place: Place, asked: MadeFrom | null) {
  return useQuery({
    queryKey: keys.derivedPreview(place, asked),
    queryFn: ({ signal }) =>
      answer(
        client.POST(`${derivation}/preview`, {
          params: { path: place },
          body: asked ?? { made_by: 'ratio' },
          signal,
        }),
      ),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    retry: false,
  })
}
