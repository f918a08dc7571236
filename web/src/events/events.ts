// The events of a workspace: their list, and calendar files to bring in.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys, renew } from '../api/keys.ts'
import type { EventDraft } from '../chart-page/session/drafts/eventDraft.ts'
import { notifyProblem, notifyUndoable } from '../shared/notifications.tsx'

const base = '/api/v1/workspaces/{workspace}/events' as const

/** A stretch of the events, with the states; or the times of one state. */
export function useEvents(workspace: string, start: number, search: string, state = '') {
  const query = { start, search, state }
  return useQuery({
    queryKey: keys.events(workspace, query),
    queryFn: ({ signal }) =>
      answer(client.GET(base, { params: { path: { workspace }, query }, signal })),
    placeholderData: keepPreviousData,
  })
}

export type Event = Schemas['Event']
export type State = Schemas['StateRow']

/** What is written of an event: the server gives it its number and version. */
function written({ id, version, ...body }: EventDraft) {
  return body
}

/** Adds, changes and removes events beside any chart; each offers to be taken back. */
export function useEventActs(workspace: string) {
  const queries = useQueryClient()
  const path = { workspace }
  const renewed = () => renew.afterEvent(queries, workspace)
  /** Shows the events as they are by now, and why nothing was changed. */
  const refused = (error: Error) => {
    renewed()
    notifyProblem(error)
  }
  const seen = ({ id, version }: Event) => ({
    path: { ...path, number: id },
    query: { version },
  })
  const add = useMutation({
    mutationFn: (own: EventDraft) =>
      answer(client.POST(base, { params: { path }, body: written(own) })),
    onSuccess: (event) => {
      renewed()
      notifyUndoable('The event is added.', () => remove.mutate(event))
    },
    onError: notifyProblem,
  })
  const change = useMutation({
    mutationFn: ({ event, own }: { event: Event; own: EventDraft }) =>
      answer(client.PATCH(`${base}/{number}`, { params: seen(event), body: written(own) })),
    onSuccess: (saved, { event }) => {
      renewed()
      notifyUndoable('The event is saved.', () => change.mutate({ event: saved, own: event }))
    },
    onError: refused,
  })
  const remove = useMutation({
    mutationFn: (event: Event) =>
      answer(client.DELETE(`${base}/{number}`, { params: seen(event) })),
    onSuccess: (_, event) => {
      renewed()
      notifyUndoable('The event is removed.', () => add.mutate(event))
    },
    onError: refused,
  })
  return { add, change, remove }
}

/** A file as a form, which the generated client sends as it is. */
function formOf(file: File, more: Record<string, string> = {}) {
  const form = new FormData()
  form.append('file', file)
  for (const [name, value] of Object.entries(more)) form.append(name, value)
  return form as unknown as { file: string; skip_broken: boolean; kpis: string[] }
}

export function useCalendarActs(workspace: string) {
  const queries = useQueryClient()
  const path = { workspace }
  const renewed = () => renew.afterEvent(queries, workspace)
  return {
    read: useMutation({
      mutationFn: (file: File) =>
        answer(
          client.POST(`${base}/read`, {
            params: { path },
            body: formOf(file),
            bodySerializer: (body) => body,
          }),
        ),
    }),
    bring: useMutation({
      mutationFn: ({ file, skip }: { file: File; skip: boolean }) =>
        answer(
          client.POST(`${base}/imports`, {
            params: { path },
            body: formOf(file, { skip_broken: String(skip) }),
            bodySerializer: (body) => body,
          }),
        ),
      onSuccess: renewed,
      onError: notifyProblem,
    }),
    takeBack: useMutation({
      mutationFn: (number: number) =>
        answer(
          client.DELETE(`${base}/imports/{number}`, { params: { path: { ...path, number } } }),
        ),
      onSuccess: renewed,
      onError: notifyProblem,
    }),
  }
}
