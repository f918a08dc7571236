import { Button } from '@mantine/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { answer, client } from '../api/client.ts'
import { keys, renew } from '../api/keys.ts'
import { whenHandsAreFree } from '../shared/inHand.ts'
import classes from './Shell.module.css'

/** Milliseconds between two looks whether something new is there. */
const LOOKED_EVERY = 10_000
/** Pixels from the top from which on a list that moves would disturb. */
const SCROLLED = 120

/** Renews what is open when something new is there; where that would disturb, it says so first. */
export function Live({ workspace }: { workspace: string }) {
  const queries = useQueryClient()
  const { data } = useQuery({
    queryKey: keys.changes(workspace),
    queryFn: () =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/changes', { params: { path: { workspace } } }),
      ),
    refetchInterval: LOOKED_EVERY,
    retry: false,
    staleTime: 0,
  })
  const seen = useRef<{ workspace: string; stamp: string } | null>(null)
  const [waits, setWaits] = useState(false)
  const show = useCallback(() => {
    setWaits(false)
    void renew.afterNews(queries, workspace)
  }, [queries, workspace])
  const stamp = data?.stamp
  useEffect(() => {
    if (!stamp) return
    const before = seen.current
    seen.current = { workspace, stamp }
    if (!before || before.workspace !== workspace || before.stamp === stamp) return
    if (window.scrollY > SCROLLED) setWaits(true)
    else whenHandsAreFree(show)
  }, [stamp, workspace, show])
  if (!waits) return null
  return (
    <div className={classes.news} role="status">
      <Button size="xs" onClick={show}>
        Something new is there. Show it
      </Button>
    </div>
  )
}
