import { Button, Group, Modal, Stack, Text, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { Grain } from '../chart/model/types.ts'
import { longPeriod } from '../shared/writing.ts'
import type { Value } from './values.ts'

interface Props {
  value: Value | null
  grain: Grain
  saving: boolean
  onClose: () => void
  onKeep: (value: Value, reason: string) => void
}

/** Why a value is set aside. */
export function AsideForm({ value, grain, saving, onClose, onKeep }: Props) {
  const [reason, setReason] = useState('')
  return (
    <Modal
      opened={value !== null}
      onClose={onClose}
      title={value ? `Set ${longPeriod(value.period, grain)} aside` : ''}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (value && reason.trim()) onKeep(value, reason.trim())
        }}
      >
        <Stack gap="sm">
          <Text size="sm">
            It stays on the chart, drawn hollow, and takes no part in the average, the limits or the
            rules.
          </Text>
          <TextInput
            data-autofocus
            label="Why"
            placeholder="Gale, ramp closed"
            maxLength={200}
            value={reason}
            onChange={(event) => setReason(event.currentTarget.value)}
          />
          <Group>
            <Button type="submit" size="xs" disabled={!reason.trim()} loading={saving}>
              Set aside
            </Button>
            <Button size="xs" variant="default" onClick={onClose}>
              Leave it in
            </Button>
          </Group>
        </Stack>
      </form>
    </Modal>
  )
}
