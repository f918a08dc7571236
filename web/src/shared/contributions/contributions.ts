// What made a value: asked of the server, which shares the difference out.
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../../api/client.ts'
import { type KpiPath, keys } from '../../api/keys.ts'

export type Contributions = Schemas['Contributions']
export type SharedOut = Schemas['SharedOut']

/** Which periods are looked at, and what they are held against; the limits' own where nothing is said. */
export interface Asked {
  first: string
  last?: string
  against?: { first: string; last: string }
  /** All from the first period on, against what was before. */
  shift?: boolean
  by?: Schemas['Grain']
}

export function useContributions(path: KpiPath, asked: Asked | null) {
  const { against, ...rest } = asked ?? { first: '' }
  const query = {
    ...rest,
    ...(against && { against_first: against.first, against_last: against.last }),
  }
  return useQuery({
    queryKey: keys.contributions(path, query),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/contributions', {
          params: { path, query },
          signal,
        }),
      ),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    retry: false,
  })
}
