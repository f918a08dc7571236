// A KPI's chart from the server: as it is saved, as it would be, and the writes that change it.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { answer, client, Problem, type Schemas } from '../../api/client.ts'
import { kpisKey } from '../../shared/kpis.ts'
import { notifyDone, notifyProblem, notifyStale } from '../../shared/notifications.tsx'

export type Chart = Schemas['Chart']
export type SavedChart = Schemas['SavedChart']
export type Settings = Schemas['PatchedChartSettingsRequest']
export type Previewed = Schemas['PreviewRequest']
export type Review = NonNullable<Schemas['SegmentInRequest']['review']>
export type SegmentSettings = Schemas['SegmentInRequest']

export interface Place {
  workspace: string
  kpi: string
}

/** Which periods are shown, and how many pixels there are for them. */
export interface View {
  first?: string
  last?: string
  /** A grain coarser than the stored one. */
  by?: Schemas['Grain']
  /** The one breakdown that is shown. */
  breakdown?: string
  width: number
}

const chartKey = ({ workspace, kpi }: Place, view?: View) =>
  view ? ['chart', workspace, kpi, view] : ['chart', workspace, kpi]

export function useChart(place: Place, view: View) {
  return useQuery({
    queryKey: chartKey(place, view),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/analysis', {
          params: { path: place, query: view },
          signal,
        }),
      ),
    // Another stretch of the same chart may show while it loads; another chart may not.
    placeholderData: (before, query) =>
      query?.queryKey[2] === place.kpi && query.queryKey[1] === place.workspace
        ? before
        : undefined,
  })
}

/**
 * The chart under settings that are not kept; null asks for nothing.
 *
 * One at a time: while a hand drags, the next is asked for when the last has come, and
 * with the settings of that moment. Were each to replace the one before, none would come
 * until the hand rests.
 */
export function usePreview(place: Place, view: View, settings: Previewed | null) {
  const [asked, setAsked] = useState(settings)
  const behind = JSON.stringify(asked) !== JSON.stringify(settings)
  const query = useQuery({
    queryKey: ['preview', place, view, asked],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/workspaces/{workspace}/kpis/{kpi}/preview', {
          params: { path: place, query: view },
          body: asked ?? {},
          signal,
        }),
      ),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  })
  const waiting = query.isFetching && settings !== null
  useEffect(() => {
    if (behind && !waiting) setAsked(settings)
  }, [behind, waiting, settings])
  return { ...query, isPlaceholderData: query.isPlaceholderData || behind }
}

/** What a set of rules costs in false alarms, for as many points as the KPI has. */
export function useFalseAlarms(
  place: Place,
  rules: Schemas['Kpi']['rules'],
  run_length: 7 | 8 | 9,
) {
  return useQuery({
    queryKey: ['false-alarms', place, rules, run_length],
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/false-alarms', {
          params: { path: place, query: { rules, run_length } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  })
}

/** What to change: settings, or how they follow from the chart as it is then; null: nothing. */
export type Intent = Settings | ((chart: Chart) => Settings | null)
export type EventChanges = Schemas['PatchedEventInRequest']
type NewEvent = Schemas['NewEventRequest']
type Event = Schemas['Event']

interface Params {
  path: Place
  query: View
  header: { 'If-Match': string }
}

/** Settings of an intent for a chart; throws where it has no room there any more. */
export function settle(intent: Intent, chart: Chart): Settings {
  const settings = typeof intent === 'function' ? intent(chart) : intent
  if (settings === null) throw new Problem(0, 'There is no room for this on the chart any more.')
  return settings
}

/**
 * One act on a chart, which names the revision it was made on. A stale one is
 * refused; the chart as it is now comes in, and the act can be done again on top.
 */
function useAct<V>(
  place: Place,
  view: View,
  run: (wanted: V, params: Params, chart: SavedChart) => Promise<SavedChart>,
  { again = true } = {},
) {
  const queries = useQueryClient()
  const key = chartKey(place, view)
  const mutation = useMutation({
    mutationFn: (wanted: V) => {
      const chart = queries.getQueryData<SavedChart>(key)
      if (!chart) throw new Problem(0, 'The chart is not here yet. Try again in a moment.')
      const header = { 'If-Match': `"${chart.kpi.revision}"` }
      return run(wanted, { path: place, query: view, header }, chart)
    },
    onSuccess: (chart) => {
      queries.setQueryData(key, chart)
      // Other views of it are of an older revision: what is done on them would be refused.
      queries.removeQueries({ queryKey: chartKey(place), type: 'inactive' })
      queries.invalidateQueries({ queryKey: kpisKey(place.workspace) })
      // An act that is taken back may have been one on the values, an event, or an import.
      for (const one of ['values', 'versions', 'lane', 'acts', 'compared', 'patterns'])
        queries.invalidateQueries({ queryKey: [one, place.workspace, place.kpi] })
      for (const one of ['imports', 'events', 'findings'])
        queries.invalidateQueries({ queryKey: [one, place.workspace] })
    },
    onError: async (error, wanted) => {
      const stale = error instanceof Problem && error.status === 412
      if (!stale) {
        // What cannot be undone may be passed over: the next act is another one then.
        if (error instanceof Problem && error.status === 409)
          queries.invalidateQueries({ queryKey: chartKey(place) })
        return notifyProblem(error)
      }
      await queries.invalidateQueries({ queryKey: chartKey(place) })
      await queries.invalidateQueries({ queryKey: ['lane', place.workspace, place.kpi] })
      if (again) notifyStale(error, () => mutation.mutate(wanted, { onSuccess: notifyDone }))
      else notifyProblem(error)
    },
  })
  return mutation
}

/** Keeps, undoes and redoes. */
export function useChartActs(place: Place, view: View) {
  const queries = useQueryClient()
  const base = '/api/v1/workspaces/{workspace}/kpis/{kpi}' as const
  return {
    change: useAct(place, view, (intent: Intent, params, chart) =>
      answer(client.PATCH(base, { params, body: settle(intent, chart) })),
    ),
    aside: useAct(place, view, (body: Schemas['SetAsideInRequest'], params) =>
      answer(client.POST(`${base}/aside`, { params, body })),
    ),
    trial: useAct(place, view, (body: Schemas['TrialRequest'], params) =>
      answer(client.POST(`${base}/trial`, { params, body })),
    ),
    addEvent: useAct(place, view, (body: NewEvent, params) =>
      answer(client.POST(`${base}/lane`, { params, body })),
    ),
    changeEvent: useAct(
      place,
      view,
      ({ event, changes }: { event: Event; changes: EventChanges }, { path, query, header }) =>
        answer(
          client.PATCH(`${base}/lane/{number}`, {
            params: {
              path: { ...path, number: event.id },
              query: { ...query, version: event.version },
              header,
            },
            body: changes,
          }),
        ),
    ),
    removeEvent: useAct(place, view, (event: Event, { path, query, header }) =>
      answer(
        client.DELETE(`${base}/lane/{number}`, {
          params: {
            path: { ...path, number: event.id },
            query: { ...query, version: event.version },
            header,
          },
        }),
      ),
    ),
    restore: useAct(
      place,
      view,
      (act: number | null, params) =>
        answer(client.POST(`${base}/history`, { params, body: { act } })),
      { again: false },
    ),
    undo: useAct(
      place,
      view,
      (_: undefined, params) => answer(client.POST(`${base}/undo`, { params })),
      { again: false },
    ),
    redo: useAct(
      place,
      view,
      (_: undefined, params) => answer(client.POST(`${base}/redo`, { params })),
      { again: false },
    ),
    remove: useMutation({
      mutationFn: ({ name, revision }: { name: string; revision: number }) =>
        answer(
          client.DELETE(base, {
            params: {
              path: place,
              query: { ...view, name },
              header: { 'If-Match': `"${revision}"` },
            },
          }),
        ),
      onSuccess: () => queries.invalidateQueries({ queryKey: kpisKey(place.workspace) }),
    }),
  }
}

/** The events told with a KPI, gathered into pins for so many pixels. */
export function useLane(place: Place, first: string, last: string, width: number) {
  return useQuery({
    queryKey: ['lane', place.workspace, place.kpi, first, last, width],
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/lane', {
          params: { path: place, query: { first, last, width } },
          signal,
        }),
      ),
    enabled: first !== '',
    placeholderData: keepPreviousData,
  })
}

/** What speaks for limits that follow a trend or a season. */
export function usePatterns(place: Place, enabled: boolean) {
  return useQuery({
    queryKey: ['patterns', place.workspace, place.kpi],
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/patterns', {
          params: { path: place },
          signal,
        }),
      ),
    enabled,
  })
}

export interface Compared {
  before?: number
  after?: number
  /** A period to compare before and after, within its segment. */
  at?: string
}

/** Two stretches of a chart side by side. */
export function useComparison(place: Place, compared: Compared | null) {
  return useQuery({
    queryKey: ['compared', place.workspace, place.kpi, compared],
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/comparison', {
          params: { path: place, query: compared ?? {} },
          signal,
        }),
      ),
    enabled: compared !== null,
    placeholderData: keepPreviousData,
    retry: false,
  })
}

/** What has been done to a chart, newest first; `before` is a number of an act. */
export function useActs(place: Place, before: number | null) {
  return useQuery({
    queryKey: ['acts', place.workspace, place.kpi, before],
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/history', {
          params: { path: place, query: before === null ? {} : { before } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  })
}

/** The decisions to keep limits as settings, but for the one at a period. */
export function keptLimitsBut(period: string, chart: Schemas['Chart']) {
  return chart.kept_limits
    .filter((one) => one.period !== period)
    .map(({ period, reason, review }) => ({ period, reason, review }))
}

/** The segments of a chart as settings, to change one and send them back. */
export function segmentSettings(chart: Schemas['Chart']): SegmentSettings[] {
  return chart.segments.map(
    ({ start, name, what_changed, centre, spread, window, follows, review }) => ({
      start,
      name,
      what_changed,
      centre,
      spread,
      window,
      follows,
      review,
    }),
  )
}

/** The segments with one of them changed, by its start; null where it has gone. */
export function segmentsBut(
  chart: Schemas['Chart'],
  start: string | null,
  changes: Partial<SegmentSettings>,
): SegmentSettings[] | null {
  if (!chart.segments.some((one) => one.start === start)) return null
  return segmentSettings(chart).map((one) => (one.start === start ? { ...one, ...changes } : one))
}
