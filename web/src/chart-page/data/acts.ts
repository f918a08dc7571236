// The writes that change a chart: each names the revision it was made on.
import { type QueryClient, useMutation, useQueryClient } from '@tanstack/react-query'
import { answer, client, Problem, type Schemas, Unreachable } from '../../api/client.ts'
import { keys, renew } from '../../api/keys.ts'
import { announce } from '../../shared/announcing.tsx'
import { notifyBusy, notifyDone, notifyProblem, notifyStale } from '../../shared/notifications.tsx'
import { requestOf, type Tried } from '../session/drafts/trial.ts'
import { type Intent, settle } from './change.ts'
import type { KpiPath, SavedChart, View } from './chart.ts'

export type EventChanges = Schemas['PatchedEventChangesRequest']
type NewEvent = Schemas['NewEventRequest']
type Event = Schemas['Event']

interface Params {
  path: KpiPath
  query: View
  header: { 'If-Match': string }
}

/** The version of an event: the one on the lane by now, where it has come in anew. */
function versionOf(queries: QueryClient, path: KpiPath, { id, version }: Event): number {
  const lanes = queries.getQueriesData<Schemas['Pin'][]>({ queryKey: keys.lane(path) })
  const seen = lanes.flatMap(([, pins]) => pins ?? []).flatMap((pin) => pin.events)
  return Math.max(version, ...seen.filter((other) => other.id === id).map((other) => other.version))
}

/** What an act has done, as it is announced. */
function said(before: SavedChart | undefined, now: SavedChart, steps?: 'undo' | 'redo'): string {
  if (steps === 'undo') return `Undone: ${before?.history.undo ?? ''}`
  if (steps === 'redo') return `Redone: ${before?.history.redo ?? ''}`
  return now.history.undo ?? ''
}

/**
 * One act on a chart, which names the revision it was made on. A stale one is
 * refused; the chart as it is now comes in, and the act can be done again on top.
 */
function useAct<V>(
  path: KpiPath,
  view: View,
  run: (wanted: V, params: Params, chart: SavedChart) => Promise<SavedChart>,
  { again = true, steps }: { again?: boolean; steps?: 'undo' | 'redo' } = {},
) {
  const queries = useQueryClient()
  const key = keys.chart(path, view)
  const mutation = useMutation({
    // One after another: each names the revision that the one before has left.
    scope: { id: `${path.workspace} ${path.kpi}` },
    mutationFn: (wanted: V) => {
      const chart = queries.getQueryData<SavedChart>(key)
      if (!chart) throw new Problem(0, 'The chart is not here yet. Try again in a moment.')
      const header = { 'If-Match': `"${chart.kpi.revision}"` }
      return run(wanted, { path, query: view, header }, chart)
    },
    onSuccess: (chart) => {
      const before = queries.getQueryData<SavedChart>(key)
      queries.setQueryData(key, chart)
      announce(said(before, chart, steps))
      // Other views of it are of an older revision: what is done on them would be refused.
      queries.removeQueries({ queryKey: keys.chart(path), type: 'inactive' })
      renew.afterAct(queries, path)
    },
    onError: async (error, wanted) => {
      const stale = error instanceof Problem && error.status === 412
      if (!stale) {
        // What cannot be undone may be passed over: the next act is another one then.
        if (error instanceof Problem && error.status === 409) renew.afterRefusal(queries, path)
        // Nothing was saved, and what was in the way may be gone by now.
        if (error instanceof Unreachable || (error instanceof Problem && error.status === 503))
          return notifyBusy(error, () => mutation.mutate(wanted))
        return notifyProblem(error)
      }
      await renew.afterRefusal(queries, path)
      if (again) notifyStale(error, () => mutation.mutate(wanted, { onSuccess: notifyDone }))
      else notifyProblem(error)
    },
  })
  return mutation
}

/** Keeps, undoes and redoes. Long as a list: one act after another. */
export function useChartActs(path: KpiPath, view: View) {
  const queries = useQueryClient()
  const base = '/api/v1/workspaces/{workspace}/kpis/{kpi}' as const
  return {
    change: useAct(path, view, (intent: Intent, params, chart) =>
      answer(client.PATCH(base, { params, body: settle(intent, chart) })),
    ),
    aside: useAct(path, view, (body: Schemas['SetAsideRequest'], params) =>
      answer(client.POST(`${base}/aside`, { params, body })),
    ),
    trial: useAct(path, view, (tried: Tried, params, chart) =>
      answer(client.POST(`${base}/trial`, { params, body: requestOf(tried, chart) })),
    ),
    addEvent: useAct(path, view, (body: NewEvent, params) =>
      answer(client.POST(`${base}/lane`, { params, body })),
    ),
    changeEvent: useAct(
      path,
      view,
      ({ event, changes }: { event: Event; changes: EventChanges }, { path, query, header }) =>
        answer(
          client.PATCH(`${base}/lane/{number}`, {
            params: {
              path: { ...path, number: event.id },
              query: { ...query, version: versionOf(queries, path, event) },
              header,
            },
            body: changes,
          }),
        ),
    ),
    removeEvent: useAct(path, view, (event: Event, { path, query, header }) =>
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
      path,
      view,
      (act: number | null, params) =>
        answer(client.POST(`${base}/history`, { params, body: { act } })),
      { again: false },
    ),
    undo: useAct(
      path,
      view,
      (_: undefined, params) => answer(client.POST(`${base}/undo`, { params })),
      { again: false, steps: 'undo' },
    ),
    redo: useAct(
      path,
      view,
      (_: undefined, params) => answer(client.POST(`${base}/redo`, { params })),
      { again: false, steps: 'redo' },
    ),
    remove: useMutation({
      mutationFn: ({ name, revision }: { name: string; revision: number }) =>
        answer(
          client.DELETE(base, {
            params: {
              path,
              query: { ...view, name },
              header: { 'If-Match': `"${revision}"` },
            },
          }),
        ),
      onSuccess: () => renew.afterDeletion(queries, path.workspace),
    }),
  }
}
