// Pages from the server, and what is done to them.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, Problem, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import type { NewPanel } from '../panels/panels.ts'
import { notifyProblem, notifyStale } from '../shared/notifications.tsx'

export type PageDetail = Schemas['PageDetail']
type PanelRequest = Schemas['NewPanelRequest']
export type PageChanges = Schemas['PatchedPageChangesRequest']

const base = '/api/v1/workspaces/{workspace}/pages' as const

export function usePages(workspace: string, start = 0) {
  return useQuery({
    queryKey: keys.pages(workspace, 'list', start),
    queryFn: ({ signal }) =>
      answer(client.GET(base, { params: { path: { workspace }, query: { start } }, signal })),
    placeholderData: keepPreviousData,
  })
}

export function usePage(workspace: string, number: number) {
  return useQuery({
    queryKey: keys.pages(workspace, 'one', number),
    enabled: number > 0,
    queryFn: ({ signal }) =>
      answer(client.GET(`${base}/{number}`, { params: { path: { workspace, number } }, signal })),
  })
}

export function usePageHistory(workspace: string, number: number, enabled: boolean) {
  return useQuery({
    queryKey: keys.pages(workspace, 'history', number),
    queryFn: ({ signal }) =>
      answer(
        client.GET(`${base}/{number}/history`, { params: { path: { workspace, number } }, signal }),
      ),
    enabled,
  })
}

export function useNewPage(workspace: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ title, panels = [] }: { title: string; panels?: NewPanel[] }) =>
      answer(
        client.POST(base, {
          params: { path: { workspace } },
          body: { title, panels: panels as PanelRequest[] },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.pages(workspace) }),
    onError: notifyProblem,
  })
}

export function useAddPanel(workspace: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ number, panel }: { number: number; panel: NewPanel }) =>
      answer(
        client.POST(`${base}/{number}/panels`, {
          params: { path: { workspace, number } },
          body: panel as PanelRequest,
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.pages(workspace) }),
    onError: notifyProblem,
  })
}

/** What is done to one page: each act on the revision that is shown, one after the other. */
export function usePageActs(workspace: string, number: number) {
  const queries = useQueryClient()
  const key = keys.pages(workspace, 'one', number)
  const scope = { id: `page ${workspace} ${number}` }
  const params = () => {
    const revision = queries.getQueryData<PageDetail>(key)?.revision ?? 0
    return { path: { workspace, number }, header: { 'If-Match': `"${revision}"` } }
  }
  const kept = (page: PageDetail) => {
    queries.setQueryData(key, page)
    queries.invalidateQueries({ queryKey: keys.pages(workspace, 'list') })
    queries.invalidateQueries({ queryKey: keys.pages(workspace, 'history') })
  }
  const change = useMutation({
    scope,
    mutationFn: (body: PageChanges) =>
      answer(client.PATCH(`${base}/{number}`, { params: params(), body })),
    onSuccess: kept,
    onError: async (error, body) => {
      await queries.invalidateQueries({ queryKey: key })
      if (!(error instanceof Problem && error.status === 412)) return notifyProblem(error)
      // Panels as they were arranged here would drop what somebody else has put there.
      if (body.panels) return notifyProblem(error)
      notifyStale(error, () => change.mutate(body))
    },
  })
  const turn = useMutation({
    scope,
    mutationFn: (back: boolean) =>
      answer(
        back
          ? client.POST(`${base}/{number}/undo`, { params: params() })
          : client.POST(`${base}/{number}/redo`, { params: params() }),
      ),
    onSuccess: kept,
    onError: (error) => {
      queries.invalidateQueries({ queryKey: key })
      notifyProblem(error)
    },
  })
  const remove = useMutation({
    scope,
    mutationFn: () => answer(client.DELETE(`${base}/{number}`, { params: params() })),
    onSuccess: () => {
      queries.removeQueries({ queryKey: key })
      return queries.invalidateQueries({ queryKey: keys.pages(workspace, 'list') })
    },
    onError: notifyProblem,
  })
  return { change, turn, remove }
}
