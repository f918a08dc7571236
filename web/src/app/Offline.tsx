import { onlineManager } from '@tanstack/react-query'
import { useSyncExternalStore } from 'react'
import classes from './Shell.module.css'

const watch = (changed: () => void) => onlineManager.subscribe(changed)
const isOnline = () => onlineManager.isOnline()

/** Says that the line has dropped, for as long as it has. */
export function Offline() {
  if (useSyncExternalStore(watch, isOnline)) return null
  return (
    <div role="alert" className={classes.offline}>
      No connection: what you do now is not saved.
    </div>
  )
}
