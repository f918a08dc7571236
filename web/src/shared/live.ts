// Whether something new is there: asked every few seconds by whatever is open.
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { answer, client } from '../api/client.ts'
import { keys } from '../api/keys.ts'

/** Milliseconds between two looks. */
const LOOKED_EVERY = 10_000

/** Calls back when something of a workspace has changed; returns when it was last looked at. */
export function useLive(workspace: string, onNews: () => void, always = false) {
  const { data, dataUpdatedAt, isError } = useQuery({
    queryKey: keys.changes(workspace),
    queryFn: () =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/changes', { params: { path: { workspace } } }),
      ),
    refetchInterval: LOOKED_EVERY,
    refetchIntervalInBackground: always,
    retry: false,
    staleTime: 0,
  })
  const seen = useRef<{ workspace: string; stamp: string } | null>(null)
  const stamp = data?.stamp
  useEffect(() => {
    if (!stamp) return
    const before = seen.current
    seen.current = { workspace, stamp }
    if (before && before.workspace === workspace && before.stamp !== stamp) onNews()
  }, [stamp, workspace, onNews])
  return { at: dataUpdatedAt, lost: isError }
}
