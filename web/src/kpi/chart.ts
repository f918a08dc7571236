// A KPI's chart from the server: as it is saved, as it would be, and the writes that change it.
import { notifications } from '@mantine/notifications'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, Problem, type Schemas } from '../client.ts'
import { kpisKey } from './kpis.ts'

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

/** The chart under settings that are not kept; null asks for nothing. */
export function usePreview(place: Place, view: View, settings: Previewed | null) {
  return useQuery({
    queryKey: ['preview', place, view, settings],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/workspaces/{workspace}/kpis/{kpi}/preview', {
          params: { path: place, query: view },
          body: settings ?? {},
          signal,
        }),
      ),
    enabled: settings !== null,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  })
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

/** Keeps, undoes and redoes; a stale act is refused and the chart as it is now comes in. */
export function useChartActs(place: Place, view: View, revision: number) {
  const queries = useQueryClient()
  const params = { path: place, query: view, header: { 'If-Match': `"${revision}"` } }
  const base = '/api/v1/workspaces/{workspace}/kpis/{kpi}' as const

  const options = {
    onSuccess: (chart: SavedChart) => {
      queries.setQueryData(chartKey(place, view), chart)
      queries.invalidateQueries({ queryKey: chartKey(place), refetchType: 'none' })
      queries.invalidateQueries({ queryKey: kpisKey(place.workspace) })
      // An act that is taken back may have been one on the values, or an import.
      for (const key of ['values', 'versions'])
        queries.invalidateQueries({ queryKey: [key, place.workspace, place.kpi] })
      queries.invalidateQueries({ queryKey: ['imports', place.workspace] })
    },
    onError: (error: Error) => {
      notifyProblem(error)
      if (error instanceof Problem && error.status === 412) {
        queries.invalidateQueries({ queryKey: chartKey(place) })
      }
    },
  }
  return {
    change: useMutation({
      mutationFn: (body: Settings) => answer(client.PATCH(base, { params, body })),
      ...options,
    }),
    aside: useMutation({
      mutationFn: (body: Schemas['SetAsideInRequest']) =>
        answer(client.POST(`${base}/aside`, { params, body })),
      ...options,
    }),
    undo: useMutation({
      mutationFn: () => answer(client.POST(`${base}/undo`, { params })),
      ...options,
    }),
    redo: useMutation({
      mutationFn: () => answer(client.POST(`${base}/redo`, { params })),
      ...options,
    }),
    remove: useMutation({
      mutationFn: (name: string) =>
        answer(client.DELETE(base, { params: { ...params, query: { name } } })),
      onSuccess: () => queries.invalidateQueries({ queryKey: kpisKey(place.workspace) }),
    }),
  }
}

export function notifyProblem(error: Error) {
  notifications.show({
    color: 'signal',
    title: error.message,
    message: error instanceof Problem ? error.summary : '',
    autoClose: 9000,
    withCloseButton: true,
    closeButtonProps: { 'aria-label': 'Dismiss' },
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
  return chart.segments.map(({ start, name, what_changed, centre, spread, window, review }) => ({
    start,
    name,
    what_changed,
    centre,
    spread,
    window,
    review,
  }))
}
