import { useNetwork } from '@mantine/hooks'
import classes from './Shell.module.css'

/** Says that the line has dropped, for as long as it has. */
export function Offline() {
  const { online } = useNetwork()
  return (
    <div role="status" className={online ? 'unseen' : classes.offline}>
      {!online && 'No connection. What you do now is not saved; it says so, and can be done again.'}
    </div>
  )
}
