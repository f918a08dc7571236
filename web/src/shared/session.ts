import { type QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client } from '../api/client.ts'
import { keys } from '../api/keys.ts'

/** Who is signed in, and what they belong to. */
export function useSession() {
  return useQuery({ queryKey: keys.session, queryFn: () => answer(client.GET('/api/v1/session')) })
}

export function useSignIn() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (who: { name: string; password: string } | 'demo') =>
      answer(
        who === 'demo'
          ? client.POST('/api/v1/session/demo')
          : client.POST('/api/v1/session', { body: who }),
      ),
    onSuccess: (session) => queries.setQueryData(keys.session, session),
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
