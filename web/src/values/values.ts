// The values of a KPI as they are stored, in stretches, and the writes of single ones.
import { useMutation, useQueries, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys, type Place, renew } from '../api/keys.ts'
import { useVocabulary } from '../api/vocabulary.ts'
import { notifyProblem } from '../shared/notifications.tsx'

export type Value = Schemas['Value']
export type Edit = Partial<Schemas['EditRequest']> & { period: string }

const base = '/api/v1/workspaces/{workspace}/kpis/{kpi}/values' as const

export interface Stretches {
  count: number
  /** The period after the last one. */
  next: Schemas['Values']['next']
  /** Whether a feed brings values of it. */
  fed: boolean
  at: (index: number) => Value | undefined
  pending: boolean
  error: Error | null
  refetch: () => void
}

/** The stretches of values that hold the rows from `first` to `last`. */
export function useValues(place: Place, breakdown: string | null, first: number, last: number) {
  const atOnce = useVocabulary()?.values_page ?? 0
  const starts = [0]
  if (atOnce > 0)
    for (let page = Math.floor(first / atOnce); page <= Math.floor(last / atOnce); page++)
      if (page > 0) starts.push(page * atOnce)
  const pages = useQueries({
    queries: starts.map((start) => ({
      queryKey: keys.values(place, breakdown, start),
      queryFn: () =>
        answer(
          client.GET(base, {
            params: {
              path: place,
              query: { start, ...(breakdown === null ? {} : { breakdown }) },
            },
          }),
        ),
    })),
  })
  const head = pages[0]?.data
  const found: Stretches = {
    count: head?.count ?? 0,
    next: head?.next ?? null,
    fed: head?.fed ?? false,
    at: (index) => {
      const start = atOnce > 0 ? Math.floor(index / atOnce) * atOnce : 0
      return pages[starts.indexOf(start)]?.data?.values[index - start]
    },
    pending: pages[0]?.isPending ?? true,
    error: pages.find((page) => page.error)?.error ?? null,
    refetch: () => pages.forEach((page) => void page.refetch()),
  }
  return found
}

/** Saves values; one that somebody else has changed meanwhile is refused, and the new ones come in. */
export function useEditValues(place: Place) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (edits: Edit[]) =>
      answer(
        client.POST(base, {
          params: { path: place },
          body: { edits: edits as Schemas['EditRequest'][] },
        }),
      ),
    onError: notifyProblem,
    // Over only when what is shown is what is saved: an undo right after names the newest revision.
    onSettled: () => renew.afterValues(queries, place),
  })
}

export function useVersions(place: Place, value: Value | null) {
  return useQuery({
    queryKey: keys.versions(place, value?.period, value?.breakdown),
    queryFn: () =>
      answer(
        client.GET(`${base}/history`, {
          params: {
            path: place,
            query: { period: value?.period ?? '', breakdown: value?.breakdown ?? '' },
          },
        }),
      ),
    enabled: value !== null,
  })
}
