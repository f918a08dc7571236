// Links for people without an account: made, listed, revoked; and what one shows.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import { notifyProblem } from '../shared/notifications.tsx'

export type LinkKind = Schemas['LinkKind']

const base = '/api/v1/workspaces/{workspace}/links' as const

export function useLinks(workspace: string) {
  return useQuery({
    queryKey: keys.links(workspace),
    queryFn: () => answer(client.GET(base, { params: { path: { workspace } } })),
  })
}

export function useLinkActs(workspace: string) {
  const queries = useQueryClient()
  const onSuccess = () => queries.invalidateQueries({ queryKey: keys.links(workspace) })
  return {
    make: useMutation({
      mutationFn: (body: Schemas['NewLinkRequest']) =>
        answer(client.POST(base, { params: { path: { workspace } }, body })),
      onSuccess,
    }),
    revoke: useMutation({
      mutationFn: (number: number) =>
        answer(client.DELETE(`${base}/{number}`, { params: { path: { workspace, number } } })),
      onSuccess,
      onError: notifyProblem,
    }),
    frames: useMutation({
      mutationFn: (origins: string[]) =>
        answer(
          client.PUT('/api/v1/workspaces/{workspace}/frames', {
            params: { path: { workspace } },
            body: { origins },
          }),
        ),
      onSuccess,
    }),
  }
}

/** What a link shows; `key` opens one with a password. */
export function useShared(secret: string, key: string) {
  return useQuery({
    queryKey: keys.shared(secret, key),
    queryFn: () =>
      answer(
        client.GET('/api/v1/shared/{secret}', {
          params: { path: { secret }, header: { 'X-Link-Key': key } },
        }),
      ),
    retry: false,
    // Each asking counts as an opening.
    staleTime: Number.POSITIVE_INFINITY,
    refetchOnWindowFocus: false,
  })
}

export function useKeyFor(secret: string) {
  return useMutation({
    mutationFn: (password: string) =>
      answer(
        client.POST('/api/v1/shared/{secret}/key', {
          params: { path: { secret } },
          body: { password },
        }),
      ),
  })
}
