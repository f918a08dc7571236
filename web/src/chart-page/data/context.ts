// What is asked of a chart beside it: its events, patterns, comparisons, the cost of its rules.
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../../api/client.ts'
import { type KpiPath, keys } from '../../api/keys.ts'
import type { View } from './chart.ts'

/** What a set of rules costs in false alarms, for as many points as the KPI has. */
export function useFalseAlarms(
  path: KpiPath,
  rules: Schemas['Kpi']['rules'],
  run_length: 7 | 8 | 9,
) {
  return useQuery({
    queryKey: keys.falseAlarms(path, rules, run_length),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/false-alarms', {
          params: { path, query: { rules, run_length } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  })
}

/** What can be added to a chart at a revision; not `wanted`, it is not asked for. */
export function useOffers(path: KpiPath, view: View, revision: number, wanted: boolean) {
  return useQuery({
    queryKey: keys.offers(path, revision, view),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/offers', {
          params: { path, query: view },
          signal,
        }),
      ),
    enabled: wanted,
    retry: false,
  })
}

/** What it would take for every period to meet a target; null asks nothing. */
export function useReach(path: KpiPath, target: number | null) {
  return useQuery({
    queryKey: keys.reach(path, target),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/reach', {
          params: { path, query: { target: target ?? 0 } },
          signal,
        }),
      ),
    enabled: target !== null && Number.isFinite(target),
    placeholderData: keepPreviousData,
  })
}

/** A lasting change of the average, or the periods within which one is to show. */
export type Asked = { change: number } | { within: number }

/** When a change would show by a set of rules, or the smallest that shows in time. */
export function useHowSoon(
  path: KpiPath,
  rules: Schemas['Kpi']['rules'],
  run_length: 7 | 8 | 9,
  asked: Asked | null,
) {
  return useQuery({
    queryKey: keys.howSoon(path, rules, run_length, asked),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/how-soon', {
          params: { path, query: { rules, run_length, ...asked } },
          signal,
        }),
      ),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    retry: false,
  })
}

/** Selected periods of a chart, each summarised beside the rest. */
export function useSummaries(
  path: KpiPath,
  view: View,
  spans: readonly { first: string; last: string }[],
) {
  const { first: _, last: __, ...shown } = view
  const query = { ...shown, spans: spans.map(({ first, last }) => `${first}/${last}`) }
  return useQuery({
    queryKey: keys.summaries(path, query),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/summary', {
          params: { path, query },
          signal,
        }),
      ),
    enabled: spans.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  })
}

/** The states of the world told with a KPI, and the KPI in and out of one of them. */
export function useStates(path: KpiPath, view: View, state: string | null) {
  const { first: _, last: __, ...shown } = view
  const query = { ...shown, ...(state === null ? {} : { state }) }
  return useQuery({
    queryKey: keys.states(path, query),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/states', {
          params: { path, query },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  })
}

/** The events told with a KPI from the first to the last period, gathered into pins. */
export function useLane(path: KpiPath, first: string, last: string, view: View) {
  const query = { first, last, width: view.width, ...(view.by && { by: view.by }) }
  return useQuery({
    queryKey: keys.lane(path, query),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/lane', {
          params: { path, query },
          signal,
        }),
      ),
    enabled: first !== '',
    placeholderData: keepPreviousData,
  })
}

/** What speaks for limits that follow a trend or a season. */
export function usePatterns(path: KpiPath, enabled: boolean) {
  return useQuery({
    queryKey: keys.patterns(path),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/patterns', {
          params: { path },
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
export function useComparison(path: KpiPath, compared: Compared | null) {
  return useQuery({
    queryKey: keys.segmentsCompared(path, compared),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/comparison', {
          params: { path, query: compared ?? {} },
          signal,
        }),
      ),
    enabled: compared !== null,
    placeholderData: keepPreviousData,
    retry: false,
  })
}
