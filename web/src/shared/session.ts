import { type QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client } from '../api/client.ts'
import { keys } from '../api/keys.ts'

/** Who is signed in, and what they belong to. */
export function useSession() {
  return useQuery({ queryKey: keys.session, queryFn: () => answer(client.GET('/api/v1/session')) })
}

/** What is shown at the door: a name and its password, and after that a code where it is asked for. */
type AtTheDoor = { name: string; password: string } | { code: string } | 'demo'

function signingIn(who: AtTheDoor) {
  if (who === 'demo') return client.POST('/api/v1/session/demo')
  return 'code' in who
    ? client.POST('/api/v1/session/code', { body: who })
    : client.POST('/api/v1/session', { body: who })
}

export function useSignIn() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (who: AtTheDoor) => answer(signingIn(who)),
    onSuccess: (session) => queries.setQueryData(keys.session, session),
    // Whether a code is still waited for, the server knows.
    onError: () => queries.invalidateQueries({ queryKey: keys.session }),
  })
}

/** Asks for the way to the provider through which people sign in without a password. */
export function useGoElsewhere() {
  return useMutation({
    mutationFn: ({ to, secret = '' }: { to: string; secret?: string }) =>
      answer(client.POST('/api/v1/session/elsewhere', { body: { to, secret } })),
  })
}

/** Begins anew at the first page: nothing of one person's may be left on the screen for the next. */
export function startOver(queries: QueryClient) {
  queries.clear()
  window.location.assign('/')
}

export function useSignOut() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: () => answer(client.DELETE('/api/v1/session')),
    onSuccess: () => startOver(queries),
  })
}
