import { Button, Group, Modal, NumberInput, Stack, Text } from '@mantine/core'
import { useState } from 'react'
import type { Schemas } from '../api/client.ts'
import { Notice } from '../shared/Notice.tsx'
import { type Bound, type Holder, useConditionActs } from './condition.ts'

type Room = Schemas['RoomRequest']

/** How much a workspace may hold, to be given by whoever sees to the installation. */
export function RoomOf({ holder, onClose }: { holder: Holder | undefined; onClose: () => void }) {
  return (
    <Modal
      opened={holder !== undefined}
      onClose={onClose}
      title={holder && `Room of ${holder.name}`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {holder && <Form key={holder.slug} holder={holder} onClose={onClose} />}
    </Modal>
  )
}

function Form({ holder, onClose }: { holder: Holder; onClose: () => void }) {
  const { give } = useConditionActs()
  const [room, setRoom] = useState(
    () => Object.fromEntries(holder.bounds.map(({ kind, given }) => [kind, given])) as Room,
  )
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        give.mutate({ slug: holder.slug, room }, { onSuccess: onClose })
      }}
    >
      <Stack gap="sm">
        <Text size="sm">
          An empty field leaves it as the installation has it. Nothing that is there is removed
          where there is more already; only nothing more can be added.
        </Text>
        {holder.bounds.map((bound) => (
          <NumberInput
            key={bound.kind}
            label={named(bound)}
            description={there(bound)}
            placeholder={
              bound.given === null && bound.most !== null
                ? bound.most.toLocaleString('en-US')
                : 'As many as wanted'
            }
            min={bound.kind === 'requests_a_minute' ? 60 : 0}
            allowDecimal={false}
            allowNegative={false}
            thousandSeparator=","
            value={room[bound.kind] ?? ''}
            onChange={(value) =>
              setRoom((now) => ({ ...now, [bound.kind]: value === '' ? null : Number(value) }))
            }
          />
        ))}
        {give.error && <Notice error={give.error} />}
        <Group>
          <Button type="submit" loading={give.isPending}>
            Give this room
          </Button>
          <Button variant="default" onClick={onClose}>
            Leave it
          </Button>
        </Group>
      </Stack>
    </form>
  )
}

const named = ({ things }: Bound) => `Most ${things}`

function there({ there, kind }: Bound): string {
  if (there === null) return 'Of all people and programs, for each server process'
  const so = there.toLocaleString('en-US')
  return kind === 'file_bytes' ? `${so} wait now` : `There are ${so}`
}
