import { Button, Group } from '@mantine/core'
import { useState } from 'react'
import { DayInput } from './DayInput.tsx'

interface Props {
  /** The days to begin with, as `2026-05-18`. */
  first: string
  last: string
  onChoose: (first: string, last: string) => void
}

/** Two days that are typed or picked. */
export function TwoDays({ onChoose, ...start }: Props) {
  const [first, setFirst] = useState(start.first)
  const [last, setLast] = useState(start.last)
  const reversed = first > last
  return (
    <Group gap={6} p={8} align="flex-end" wrap="nowrap" onKeyDown={(e) => e.stopPropagation()}>
      <DayInput size="xs" w={118} label="From" value={first} onChange={setFirst} />
      <DayInput
        size="xs"
        w={118}
        label="To"
        value={last}
        error={reversed ? 'Before it begins' : null}
        onChange={setLast}
      />
      <Button
        size="xs"
        variant="default"
        disabled={reversed || !first || !last}
        onClick={() => onChoose(first, last)}
      >
        Show
      </Button>
    </Group>
  )
}
