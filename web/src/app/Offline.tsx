import { onlineManager } from '@tanstack/react-query'
import { useSyncExternalStore } from 'react'
import { useLocation } from 'react-router'
import classes from './Shell.module.css'

const watch = (changed: () => void) => onlineManager.subscribe(changed)
const isOnline = () => onlineManager.isOnline()

/** Says that the line has dropped, for as long as it has. */
export function Offline() {
  const { pathname } = useLocation()
  if (useSyncExternalStore(watch, isOnline)) return null
  return (
    <div role="alert" className={classes.offline}>
      {pathname.endsWith('/fill-in')
        ? 'No connection: what you type here is kept on this device, and sent when it is back.'
        : 'No connection: what you do now is not saved.'}
    </div>
  )
}
