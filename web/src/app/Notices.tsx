import '@mantine/notifications/styles.css'
import { Notifications } from '@mantine/notifications'

/** Where notices appear. */
export default function Notices() {
  return <Notifications position="bottom-center" limit={3} />
}
