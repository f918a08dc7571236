// The values of a KPI as they are stored, in stretches, and the writes of single ones.
import { useMutation, useQueries, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { type KpiPath, keys, renew } from '../api/keys.ts'
import type { paths } from '../api/schema'
import { useVocabulary } from '../api/vocabulary.ts'
import { notifyProblem } from '../shared/notifications.tsx'

export type Value = Schemas['Value']
export type ValueOnChart = Schemas['ValueOnChart']
export type Only = NonNullable<
  paths['/api/v1/workspaces/{workspace}/kpis/{kpi}/values']['get']['parameters']['query']
>['only'] &
  string
export type Edit = Partial<Schemas['EditRequest']> & { period: string }

const base = '/api/v1/workspaces/{workspace}/kpis/{kpi}/values' as const

export interface Stretches {
  count: number
  /** The period after the last one. */
  next: Schemas['Values']['next']
  /** Whether a feed brings values of it. */
  fed: boolean
  writers: Schemas['NamedPerson'][]
  /** How many segments the chart has. */
  segments: number
  at: (index: number) => Value | undefined
  /** What the chart says of the point that a row belongs to. */
  pointOf: (index: number) => ValueOnChart | null
  pending: boolean
  error: Error | null
  refetch: () => void
}

/** Which values are looked for: of one breakdown, by what is known of them, by who wrote them. */
export interface Wanted {
  breakdown: string | null
  only: Only | null
  by: string | null
}

/** The stretches of values that hold the rows from `first` to `last`, and what the chart says of each. */
export function useValues(path: KpiPath, wanted: Wanted, first: number, last: number): Stretches {
  const atOnce = useVocabulary()?.values_page ?? 0
  const starts = [0]
  if (atOnce > 0)
    for (let page = Math.floor(first / atOnce); page <= Math.floor(last / atOnce); page++)
      if (page > 0) starts.push(page * atOnce)
  const asked = (start: number) => ({
    path,
    query: {
      start,
      ...(wanted.breakdown === null ? {} : { breakdown: wanted.breakdown }),
      ...(wanted.only === null ? {} : { only: wanted.only }),
      ...(wanted.by === null ? {} : { by: wanted.by }),
    },
  })
  const pages = useQueries({
    queries: starts.map((start) => ({
      queryKey: keys.values(path, wanted, start),
      queryFn: () => answer(client.GET(base, { params: asked(start) })),
    })),
  })
  const points = useQueries({
    queries: starts.map((start) => ({
      queryKey: keys.values(path, wanted, start, 'on-chart'),
      queryFn: () => answer(client.GET(`${base}/on-chart`, { params: asked(start) })),
    })),
  })
  const head = pages[0]?.data
  const pageOf = (index: number) => (atOnce > 0 ? Math.floor(index / atOnce) * atOnce : 0)
  return {
    count: head?.count ?? 0,
    next: head?.next ?? null,
    fed: head?.fed ?? false,
    writers: head?.writers ?? [],
    segments: points[0]?.data?.segments ?? 1,
    at: (index) => pages[starts.indexOf(pageOf(index))]?.data?.values[index - pageOf(index)],
    pointOf: (index) =>
      points[starts.indexOf(pageOf(index))]?.data?.values[index - pageOf(index)] ?? null,
    pending: pages[0]?.isPending ?? true,
    error: pages.find((page) => page.error)?.error ?? null,
    refetch: () => pages.forEach((page) => void page.refetch()),
  }
}

/** Saves values; one that somebody else has changed meanwhile is refused, and the new ones come in. */
export function useEditValues(path: KpiPath) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (edits: Edit[]) =>
      answer(
        client.POST(base, {
          params: { path },
          body: { edits: edits as Schemas['EditRequest'][] },
        }),
      ),
    onError: notifyProblem,
    // Over only when what is shown is what is saved: an undo right after names the newest revision.
    onSettled: () => renew.afterValues(queries, path),
  })
}

export function useVersions(path: KpiPath, value: Value | null) {
  return useQuery({
    queryKey: keys.versions(path, value?.period, value?.breakdown),
    queryFn: () =>
      answer(
        client.GET(`${base}/history`, {
          params: {
            path,
            query: { period: value?.period ?? '', breakdown: value?.breakdown ?? '' },
          },
        }),
      ),
    enabled: value !== null,
  })
}
