import { Button, Group, Modal, TextInput } from '@mantine/core'
import { useState } from 'react'
import { useChartSession } from '../session/ChartSession.tsx'
import { useLookNow } from './useLookNow.ts'

/** Asks how what is shown is to be called, and keeps it as a view. */
export default function ViewName({ onClose }: { onClose: () => void }) {
  const { look, saved, acts } = useChartSession()
  const lookNow = useLookNow()
  const [name, setName] = useState('')
  const taken = saved.views.some((view) => view.name.toLowerCase() === name.trim().toLowerCase())
  const keep = (name: string) =>
    acts.keepView({ name, ...lookNow }, () => {
      onClose()
      look.show({
        view: name,
        by: lookNow.by,
        of: lookNow.breakdown,
        from: lookNow.first,
        to: lookNow.last,
      })
    })
  return (
    <Modal
      opened
      onClose={onClose}
      title="Keep this view"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (name.trim() && !taken) keep(name.trim())
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
          <Button type="submit" size="xs" loading={acts.saving} disabled={!name.trim() || taken}>
            Keep view
          </Button>
        </Group>
      </form>
    </Modal>
  )
}
