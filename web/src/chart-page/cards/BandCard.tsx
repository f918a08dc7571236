import { Button, Group, Stack, Text, TextInput } from '@mantine/core'
import { useState } from 'react'
import { lineName } from '../../chart/model/overlays.ts'
import type { Chart } from '../../chart/model/types.ts'
import { type BandDraft, COLORS } from '../session/drafts/line.ts'
import { CardSelect } from './CardSelect.tsx'

interface Props {
  chart: Chart
  draft: BandDraft
  added: boolean
  saving: boolean
  onSave: (draft: BandDraft) => void
  onRemove: () => void
}

/** The space between two lines, shown or hidden. */
export function BandCard({ chart, draft, added, saving, onSave, onRemove }: Props) {
  const [band, setBand] = useState(draft)
  const lines = chart.lines.map((line) => ({ value: line.key, label: lineName(line) }))
  const level = (key: string) => chart.lines.find((line) => line.key === key)
  const [bottom, top] = [level(band.bottom), level(band.top)]
  const turned = bottom?.level != null && top?.level != null && bottom.level > top.level
  const same = band.bottom === band.top
  const side = (name: 'bottom' | 'top', label: string) => (
    <CardSelect
      label={label}
      data={lines}
      value={band[name]}
      error={same && name === 'top' ? 'Choose two different lines.' : null}
      onChange={(key) => key && setBand({ ...band, [name]: key })}
    />
  )
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (!same) onSave(band)
      }}
    >
      <Stack gap="xs">
        {side('bottom', 'From')}
        {side('top', 'To')}
        {turned && (
          <Text size="sm" role="status">
            {lineName(bottom)} is above {lineName(top)}: it is drawn the right way round.
          </Text>
        )}
        <TextInput
          label="Name"
          value={band.name}
          maxLength={80}
          onChange={(event) => setBand({ ...band, name: event.currentTarget.value })}
        />
        <CardSelect
          label="Color"
          data={COLORS}
          value={band.color}
          onChange={(color) => setBand({ ...band, color: color as BandDraft['color'] })}
        />
        <Group gap="xs">
          <Button type="submit" size="xs" loading={saving}>
            {added ? 'Add band' : 'Save band'}
          </Button>
          {!added && (
            <Button size="xs" variant="default" onClick={onRemove}>
              Remove
            </Button>
          )}
        </Group>
      </Stack>
    </form>
  )
}
