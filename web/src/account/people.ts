// The people of a workspace, the record, and API tokens.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import type { Role } from '../shared/may.ts'
import { notifyProblem } from '../shared/notifications.tsx'
import { startOver } from '../shared/session.ts'

const base = '/api/v1/workspaces/{workspace}' as const

export const ROLE_NAMES: Record<Role, { name: string; may: string }> = {
  viewer: { name: 'Viewer', may: 'looks, adjusts charts for themselves, takes exports' },
  contributor: { name: 'Contributor', may: 'also adds values, causes, remarks and events' },
  editor: { name: 'Editor', may: 'also changes charts, data and pages' },
  owner: { name: 'Owner', may: 'also sees to people and roles, and deletes' },
}

export function usePeople(workspace: string) {
  return useQuery({
    queryKey: keys.people(workspace),
    // Whoever was invited may have joined meanwhile.
    staleTime: 0,
    queryFn: () => answer(client.GET(`${base}/people`, { params: { path: { workspace } } })),
  })
}

export function usePeopleActs(workspace: string) {
  const queries = useQueryClient()
  const path = { workspace }
  const renewed = {
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: keys.people(workspace) })
      queries.invalidateQueries({ queryKey: keys.record(workspace) })
      queries.invalidateQueries({ queryKey: keys.session })
    },
    onError: notifyProblem,
  }
  return {
    give: useMutation({
      mutationFn: ({ id, role }: { id: number; role: Role }) =>
        answer(
          client.PATCH(`${base}/people/{number}`, {
            params: { path: { ...path, number: id } },
            body: { role },
          }),
        ),
      ...renewed,
    }),
    remove: useMutation({
      mutationFn: (id: number) =>
        answer(
          client.DELETE(`${base}/people/{number}`, { params: { path: { ...path, number: id } } }),
        ),
      ...renewed,
    }),
    leave: useMutation({
      mutationFn: () => answer(client.POST(`${base}/leave`, { params: { path } })),
      onError: notifyProblem,
    }),
    endWorkspace: useMutation({
      mutationFn: (name: string) =>
        answer(client.DELETE(base, { params: { path, query: { name } } })),
      onSuccess: () => startOver(queries),
    }),
    invite: useMutation({
      mutationFn: (body: Schemas['InviteRequest']) =>
        answer(client.POST(`${base}/invitations`, { params: { path }, body })),
      onSuccess: renewed.onSuccess,
    }),
    withdraw: useMutation({
      mutationFn: (id: number) =>
        answer(
          client.DELETE(`${base}/invitations/{number}`, {
            params: { path: { ...path, number: id } },
          }),
        ),
      ...renewed,
    }),
  }
}

export function useRecord(workspace: string, start: number) {
  return useQuery({
    queryKey: keys.record(workspace, start),
    staleTime: 0,
    queryFn: () =>
      answer(client.GET(`${base}/record`, { params: { path: { workspace }, query: { start } } })),
    placeholderData: keepPreviousData,
  })
}

export function useTokens(workspace: string) {
  return useQuery({
    queryKey: keys.tokens(workspace),
    queryFn: () => answer(client.GET(`${base}/tokens`, { params: { path: { workspace } } })),
  })
}

export function useTokenActs(workspace: string) {
  const queries = useQueryClient()
  const onSuccess = () => queries.invalidateQueries({ queryKey: keys.tokens(workspace) })
  return {
    make: useMutation({
      mutationFn: (body: Schemas['NewTokenRequest']) =>
        answer(client.POST(`${base}/tokens`, { params: { path: { workspace } }, body })),
      onSuccess,
    }),
    revoke: useMutation({
      mutationFn: (number: number) =>
        answer(
          client.DELETE(`${base}/tokens/{number}`, { params: { path: { workspace, number } } }),
        ),
      onSuccess,
      onError: notifyProblem,
    }),
  }
}
