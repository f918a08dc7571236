import { Button } from '@mantine/core'
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useState } from 'react'
import { renew } from '../api/keys.ts'
import { whenHandsAreFree } from '../shared/inHand.ts'
import { useLive } from '../shared/live.ts'
import classes from './Shell.module.css'

/** Pixels from the top from which on a list that moves would disturb. */
const SCROLLED = 120

/** Renews what is open when something new is there; where that would disturb, it says so first. */
export function Live({ workspace }: { workspace: string }) {
  const queries = useQueryClient()
  const [waits, setWaits] = useState(false)
  const show = useCallback(() => {
    setWaits(false)
    void renew.afterNews(queries, workspace)
  }, [queries, workspace])
  const onNews = useCallback(() => {
    if (window.scrollY > SCROLLED) setWaits(true)
    else whenHandsAreFree(show)
  }, [show])
  useLive(workspace, onNews)
  if (!waits) return null
  return (
    <div className={classes.news} role="status">
      <Button size="xs" onClick={show}>
        Something new is there. Show it
      </Button>
    </div>
  )
}
