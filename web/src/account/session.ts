import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client } from '../api/client.ts'

const KEY = ['session']

/** Who is signed in, and what they belong to. */
export function useSession() {
  return useQuery({ queryKey: KEY, queryFn: () => answer(client.GET('/api/v1/session')) })
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
    onSuccess: (session) => queries.setQueryData(KEY, session),
  })
}

export function useSignOut() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: () => answer(client.DELETE('/api/v1/session')),
    // Nothing of one person's may be left on the screen for the next.
    onSuccess: () => {
      queries.clear()
      window.location.assign('/')
    },
  })
}
