// Notices of what was refused, and of what can be done about it.
import { Button, Group } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { Problem } from '../api/client.ts'

const summaryOf = (error: Error) => (error instanceof Problem ? error.summary : '')

export function notifyProblem(error: Error) {
  notifications.show({
    color: 'signal',
    title: error.message,
    message: summaryOf(error),
    autoClose: 9000,
    withCloseButton: true,
    closeButtonProps: { 'aria-label': 'Dismiss' },
  })
}

/** Says what somebody else did meanwhile, and offers to do the refused act again on top of it. */
export const notifyStale = (error: Error, again: () => void) =>
  notifyAgain(error, 'Do it again on top', again)

/** Says what is in the way just now, and offers to try the act again. */
export const notifyBusy = (error: Error, again: () => void) =>
  notifyAgain(error, 'Try again', again)

function notifyAgain(error: Error, name: string, again: () => void) {
  const id = notifications.show({
    color: 'signal',
    title: error.message,
    message: (
      <>
        <p style={{ margin: '0 0 8px' }}>{summaryOf(error)}</p>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => {
            notifications.hide(id)
            again()
          }}
        >
          {name}
        </Button>
      </>
    ),
    autoClose: false,
    withCloseButton: true,
    closeButtonProps: { 'aria-label': 'Dismiss' },
  })
}

/** Says that a refused act has been done after all. */
export function notifyDone() {
  notifications.show({ message: 'Done, on top of what was there.', autoClose: 4000 })
}

/** Says what was done, and offers to take it back. */
export function notifyUndoable(message: string, undo: () => void, name = 'Undo') {
  const id = notifications.show({
    message: (
      <Group gap="xs">
        <span>{message}</span>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => {
            notifications.hide(id)
            undo()
          }}
        >
          {name}
        </Button>
      </Group>
    ),
    autoClose: 9000,
    withCloseButton: true,
    closeButtonProps: { 'aria-label': 'Dismiss' },
  })
}
