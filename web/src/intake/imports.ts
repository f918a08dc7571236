// The log of what was brought into a workspace, and what can be done about it.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys, renew } from '../api/keys.ts'
import { notifyProblem } from '../shared/notifications.tsx'

export type Import = Schemas['Import']

const base = '/api/v1/workspaces/{workspace}/imports' as const

export function isUnderWay(row: Import): boolean {
  return row.status === 'waiting' || row.status === 'running'
}

/** All that was brought in; looked at again and again while something is on its way. */
export function useImports(workspace: string, before: number | null) {
  return useQuery({
    queryKey: keys.imports(workspace, before),
    queryFn: () =>
      answer(
        client.GET(base, {
          params: { path: { workspace }, query: before === null ? {} : { before } },
        }),
      ),
    refetchInterval: (query) => (query.state.data?.some(isUnderWay) ? 700 : false),
  })
}

/** One import, followed until it has ended. */
export function useImport(workspace: string, number: number | null) {
  return useQuery({
    queryKey: keys.import(workspace, number),
    queryFn: () =>
      answer(
        client.GET(`${base}/{number}`, { params: { path: { workspace, number: number ?? 0 } } }),
      ),
    enabled: number !== null,
    refetchInterval: (query) => (query.state.data && !isUnderWay(query.state.data) ? false : 500),
  })
}

export function useImportActs(workspace: string) {
  const queries = useQueryClient()
  const onSettled = () => renew.afterImport(queries, workspace)
  return {
    cancel: useMutation({
      mutationFn: (number: number) =>
        answer(client.POST(`${base}/{number}/cancel`, { params: { path: { workspace, number } } })),
      onSettled,
    }),
    again: useMutation({
      mutationFn: (number: number) =>
        answer(client.POST(`${base}/{number}/again`, { params: { path: { workspace, number } } })),
      onError: notifyProblem,
      onSettled,
    }),
    undo: useMutation({
      mutationFn: ({ number, later }: { number: number; later: 'keep' | 'discard' | null }) =>
        answer(
          client.POST(`${base}/{number}/undo`, {
            params: { path: { workspace, number } },
            body: { later },
          }),
        ),
      onSettled,
    }),
  }
}
