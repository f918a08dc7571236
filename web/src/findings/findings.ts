// Findings from the server: those of a chart, the log across KPIs, one with all there is to know.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { answer, client, Problem, type Schemas } from '../api/client.ts'
import { type KpiPath, keys, renew } from '../api/keys.ts'
import type { paths } from '../api/schema'
import { notifyProblem, notifyStale, notifyUndoable } from '../shared/notifications.tsx'

export type Finding = Schemas['Finding']
export type FindingDetail = Schemas['FindingDetail']
export type State = Finding['state']
export type Changes = Schemas['PatchedFindingChangesRequest']

export const STATES: [State, string][] = [
  ['open', 'No cause yet'],
  ['looking', 'Being looked into'],
  ['explained', 'Explained'],
  ['aside', 'Set aside'],
  ['shift', 'Became a shift'],
]
export const STATE_NAMES = Object.fromEntries(STATES) as Record<State, string>
/** Those that people give; the others come of what is done on the chart. */
export const BY_HAND: State[] = ['open', 'looking', 'explained']

export type Order = NonNullable<
  paths['/api/v1/workspaces/{workspace}/findings']['get']['parameters']['query']
>['order'] &
  string

export interface Wanted {
  state?: State[]
  kpi?: string
  rule?: Finding['rule']
  person?: string
  since?: string
  until?: string
  favorable?: boolean
  gone?: boolean
  order?: Order
  start?: number
}

/** Milliseconds after which what is new elsewhere is asked for again. */
const NEWS_AGE = 120_000
const base = '/api/v1/workspaces/{workspace}/findings' as const

export function useFindings(workspace: string, wanted: Wanted) {
  return useQuery({
    queryKey: keys.findingsLog(workspace, wanted),
    queryFn: ({ signal }) =>
      answer(client.GET(base, { params: { path: { workspace }, query: wanted }, signal })),
    placeholderData: keepPreviousData,
  })
}

export function useKpiFindings({ workspace, kpi }: KpiPath, enabled: boolean) {
  return useQuery({
    queryKey: keys.findingsOf({ workspace, kpi }),
    queryFn: ({ signal }) =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/findings', {
          params: { path: { workspace, kpi } },
          signal,
        }),
      ),
    enabled,
  })
}

export function useFinding(workspace: string, number: number, within: number) {
  return useQuery({
    queryKey: keys.finding(workspace, number, within),
    queryFn: ({ signal }) =>
      answer(
        client.GET(`${base}/{number}`, {
          params: { path: { workspace, number }, query: { within } },
          signal,
        }),
      ),
    placeholderData: (before) => (before?.id === number ? before : undefined),
  })
}

/** How many findings came since this person last looked, and how many have no cause. */
export function useNewFindings(workspace: string) {
  return useQuery({
    queryKey: keys.newFindings(workspace),
    queryFn: ({ signal }) =>
      answer(client.GET(`${base}/new`, { params: { path: { workspace } }, signal })),
  })
}

/** How many findings are new in each workspace of a person; asked where they have several. */
export function useNews(several: boolean) {
  return useQuery({
    queryKey: keys.news,
    queryFn: ({ signal }) => answer(client.GET('/api/v1/news', { signal })),
    enabled: several,
    staleTime: NEWS_AGE,
    refetchInterval: NEWS_AGE,
  })
}

/** Notes that this person looks through the findings now: the badge has said its part. */
export function useLookThrough(workspace: string) {
  const queries = useQueryClient()
  useEffect(() => {
    const path = { params: { path: { workspace } } }
    client.POST(`${base}/new`, path).then(() => {
      queries.invalidateQueries({ queryKey: keys.findings(workspace) })
      queries.invalidateQueries({ queryKey: keys.news })
    })
  }, [workspace, queries])
}

/** Gives several findings one cause, all of them or none. */
export function useSeveralActs(workspace: string, done: () => void) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ findings, changes }: { findings: Finding[]; changes: Changes }) =>
      answer(
        client.POST(`${base}/several`, {
          params: { path: { workspace } },
          body: { findings: findings.map(({ id, version }) => ({ id, version })), changes },
        }),
      ),
    onSuccess: done,
    onSettled: () => renew.afterFinding(queries, workspace),
    onError: notifyProblem,
  })
}

const CHANGE = ['change of a finding']

/** The findings that were saved here lately, as they are since. */
export const savedFindings = {
  filters: { mutationKey: CHANGE, status: 'success' as const },
  select: ({ state }: { state: { data: unknown } }) => state.data as FindingDetail | undefined,
}

export function useFindingActs(workspace: string) {
  const queries = useQueryClient()
  // With the charts: their sentences count the findings without a cause.
  const renewed = () => renew.afterFinding(queries, workspace)
  const change = useMutation({
    mutationKey: CHANGE,
    mutationFn: ({ finding, changes }: { finding: Finding; changes: Changes; back?: boolean }) =>
      answer(
        client.PATCH(`${base}/{number}`, {
          params: {
            path: { workspace, number: finding.id },
            query: { within: 0 },
            header: { 'If-Match': `"${finding.version}"` },
          },
          body: changes,
        }),
      ),
    onSuccess: (saved, { finding, changes, back }) => {
      renewed()
      if (back) return
      const before = Object.fromEntries(
        Object.keys(changes).map((name) => [name, finding[name as keyof Changes]]),
      ) as Changes
      // A state that the data gave comes back by the data alone.
      if (before.state && !BY_HAND.includes(before.state)) delete before.state
      notifyUndoable('The finding is saved.', () =>
        change.mutate({ finding: saved, changes: before, back: true }),
      )
    },
    onError: (error, { finding, changes }) => {
      renewed()
      if (!(error instanceof Problem && error.status === 412)) return notifyProblem(error)
      notifyStale(error, async () => {
        const now = await answer(
          client.GET(`${base}/{number}`, {
            params: { path: { workspace, number: finding.id }, query: { within: 0 } },
          }),
        )
        change.mutate({ finding: now, changes })
      })
    },
  })
  const remark = useMutation({
    mutationFn: ({ number, text }: { number: number; text: string }) =>
      answer(
        client.POST(`${base}/{number}/remarks`, {
          params: { path: { workspace, number } },
          body: { text },
        }),
      ),
    onSuccess: renewed,
    onError: notifyProblem,
  })
  return { change, remark }
}
