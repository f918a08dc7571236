// What one hears of and how, the digest before it is sent, and the webhooks of a workspace.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import { notifyProblem } from '../shared/notifications.tsx'

export type Messages = Schemas['Messages']
export type Topic = Schemas['Topic']
export type How = Schemas['How']
export type Wish = Schemas['WishAnswer']
export type Webhook = Schemas['WebhookRow']

const base = '/api/v1/workspaces/{workspace}' as const

export const TOPICS: Record<Topic, string> = {
  yours: 'Assigned to me, or naming me',
  shift: 'A shift waits for a decision',
  beyond_limits: 'Beyond the limits',
  other_signals: 'Other signals',
  reach: 'A target out of reach',
  due: 'A finding is due',
  late: 'Data are late',
  feed: 'A feed fails or stops',
}
export const HOWS: Record<How, string> = {
  at_once: 'At once, by mail',
  digest: 'In the digest',
  here: 'Here alone',
  not: 'Not at all',
}

export function useMessages(workspace: string) {
  return useQuery({
    queryKey: keys.messages(workspace),
    queryFn: () => answer(client.GET(`${base}/messages`, { params: { path: { workspace } } })),
  })
}

export function useMessageActs(workspace: string) {
  const queries = useQueryClient()
  const onSuccess = (now: Messages) => {
    queries.setQueryData(keys.messages(workspace), now)
    return queries.invalidateQueries({ queryKey: keys.messages(workspace, 'letter') })
  }
  return {
    wish: useMutation({
      mutationFn: (wish: Omit<Wish, 'kpi_name'>) =>
        answer(
          client.PUT(`${base}/messages/wish`, { params: { path: { workspace } }, body: wish }),
        ),
      onSuccess,
      onError: notifyProblem,
    }),
    digest: useMutation({
      mutationFn: (digest: Schemas['DigestRequest']) =>
        answer(
          client.PUT(`${base}/messages/digest`, { params: { path: { workspace } }, body: digest }),
        ),
      onSuccess,
      onError: notifyProblem,
    }),
  }
}

/** The addresses by which programs of a person follow the workspace. */
export function useFollowing(workspace: string) {
  const queries = useQueryClient()
  const path = { params: { path: { workspace } } }
  const onSuccess = () => queries.invalidateQueries({ queryKey: keys.messages(workspace) })
  return {
    make: useMutation({
      mutationFn: () => answer(client.POST(`${base}/messages/address`, path)),
      onSuccess,
      onError: notifyProblem,
    }),
    revoke: useMutation({
      mutationFn: () => answer(client.DELETE(`${base}/messages/address`, path)),
      onSuccess,
      onError: notifyProblem,
    }),
  }
}

/** The digest as it would be sent now. */
export function useLetter(workspace: string, wanted: boolean) {
  return useQuery({
    queryKey: keys.messages(workspace, 'letter'),
    queryFn: () =>
      answer(client.GET(`${base}/messages/letter`, { params: { path: { workspace } } })),
    enabled: wanted,
    staleTime: 0,
  })
}

export function useWebhooks(workspace: string) {
  return useQuery({
    queryKey: keys.webhooks(workspace),
    queryFn: () => answer(client.GET(`${base}/webhooks`, { params: { path: { workspace } } })),
    refetchInterval: 5_000,
  })
}

export function useWebhookActs(workspace: string) {
  const queries = useQueryClient()
  const onSettled = () => queries.invalidateQueries({ queryKey: keys.webhooks(workspace) })
  const one = (number: number) => ({ params: { path: { workspace, number } } })
  return {
    make: useMutation({
      mutationFn: (body: Schemas['WebhookRequest']) =>
        answer(client.POST(`${base}/webhooks`, { params: { path: { workspace } }, body })),
      onSettled,
    }),
    remove: useMutation({
      mutationFn: (number: number) =>
        answer(client.DELETE(`${base}/webhooks/{number}`, one(number))),
      onSettled,
      onError: notifyProblem,
    }),
    test: useMutation({
      mutationFn: (number: number) =>
        answer(client.POST(`${base}/webhooks/{number}/try`, one(number))),
      onSettled,
      onError: notifyProblem,
    }),
    again: useMutation({
      mutationFn: (number: number) =>
        answer(client.POST(`${base}/deliveries/{number}/again`, one(number))),
      onSettled,
      onError: notifyProblem,
    }),
  }
}
