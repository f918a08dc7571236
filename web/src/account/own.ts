// A person's own account: password, browsers, invitations in their hand, the demo's letters.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import { download } from '../chart/export.ts'
import { notifyProblem } from '../shared/notifications.tsx'
import { startOver } from '../shared/session.ts'

export function useBrowsers() {
  return useQuery({
    queryKey: keys.browsers,
    queryFn: () => answer(client.GET('/api/v1/browsers')),
  })
}

export function useSecondStep() {
  return useQuery({
    queryKey: keys.secondStep,
    queryFn: () => answer(client.GET('/api/v1/second-step')),
  })
}

/** How one may sign in: with a password, and through a provider. */
export function useElsewhere() {
  return useQuery({
    queryKey: keys.elsewhere,
    queryFn: () => answer(client.GET('/api/v1/elsewhere')),
  })
}

export function useSecondStepActs() {
  const queries = useQueryClient()
  const onSuccess = () => queries.invalidateQueries({ queryKey: keys.secondStep })
  return {
    begin: useMutation({ mutationFn: () => answer(client.POST('/api/v1/second-step')) }),
    setUp: useMutation({
      mutationFn: (code: string) => answer(client.PUT('/api/v1/second-step', { body: { code } })),
      onSuccess,
    }),
    end: useMutation({
      mutationFn: () => answer(client.DELETE('/api/v1/second-step')),
      onSuccess,
    }),
  }
}

export function useOwnActs() {
  const queries = useQueryClient()
  const onSuccess = () => queries.invalidateQueries({ queryKey: keys.browsers })
  return {
    password: useMutation({
      mutationFn: (body: Schemas['ChangePasswordRequest']) =>
        answer(client.POST('/api/v1/password', { body })),
      onSuccess,
    }),
    data: useMutation({
      mutationFn: () => answer(client.GET('/api/v1/account/data')),
      onSuccess: (data) => {
        const file = new Blob([JSON.stringify(data, null, 1)], { type: 'application/json' })
        download(file, 'fluctus-account.json')
      },
      onError: notifyProblem,
    }),
    endAccount: useMutation({
      mutationFn: () => answer(client.DELETE('/api/v1/account')),
      onSuccess: () => startOver(queries),
    }),
    end: useMutation({
      mutationFn: (number: number) =>
        answer(client.DELETE('/api/v1/browsers/{number}', { params: { path: { number } } })),
      onSuccess,
      onError: notifyProblem,
    }),
    endOthers: useMutation({
      mutationFn: () => answer(client.DELETE('/api/v1/browsers')),
      onSuccess,
      onError: notifyProblem,
    }),
  }
}

export function useSendLetter() {
  return useMutation({
    mutationFn: (name: string) =>
      answer(client.POST('/api/v1/password/letter', { body: { name } })),
  })
}

export function useReset() {
  return useMutation({
    mutationFn: (body: Schemas['ResetRequest']) =>
      answer(client.POST('/api/v1/password/reset', { body })),
  })
}

/** What an invitation offers; `ready` once the session has come, with what a write needs. */
export function useInvitation(secret: string, ready: boolean) {
  return useQuery({
    queryKey: keys.invitation(secret),
    queryFn: () => answer(client.POST('/api/v1/invitation', { body: { secret } })),
    retry: false,
    enabled: ready,
  })
}

export function useJoin() {
  return useMutation({
    mutationFn: (body: Schemas['JoinRequest']) =>
      answer(client.POST('/api/v1/invitation/join', { body })),
  })
}

export function useLetters() {
  return useQuery({
    queryKey: keys.letters,
    queryFn: () => answer(client.GET('/api/v1/demo/letters')),
    refetchInterval: 5000,
  })
}
