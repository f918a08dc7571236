import { useNetwork } from '@mantine/hooks'
import classes from './Shell.module.css'

/** Says that the line has dropped, for as long as it has. */
export function Offline() {
  const { online } = useNetwork()
  if (online) return null
  return (
    <div role="alert" className={classes.offline}>
      No connection: what you do now is not saved.
    </div>
  )
}
