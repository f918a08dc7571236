import { Button, Group, Modal, TextInput } from '@mantine/core'
import { useState } from 'react'

/** Asks how a view is to be called. */
export function ViewName(props: {
  taken: string[]
  saving: boolean
  onClose: () => void
  onKeep: (name: string) => void
}) {
  const [name, setName] = useState('')
  const taken = props.taken.includes(name.trim().toLowerCase())
  return (
    <Modal
      opened
      onClose={props.onClose}
      title="Keep this view"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (name.trim() && !taken) props.onKeep(name.trim())
        }}
      >
        <TextInput
          data-autofocus
          label="Name"
          description="Its lines, grain, part and dates are kept. The address opens it for others."
          maxLength={60}
          value={name}
          error={taken ? 'There is a view of this name already.' : null}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <Group mt="md">
          <Button type="submit" size="xs" loading={props.saving} disabled={!name.trim() || taken}>
            Keep view
          </Button>
        </Group>
      </form>
    </Modal>
  )
}
