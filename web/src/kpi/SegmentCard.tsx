import { Button, Group, SegmentedControl, Stack, Text, Textarea, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { Chart } from '../chart/types.ts'
import classes from './ChartPage.module.css'
import { type SegmentSettings, segmentSettings } from './chart.ts'
import { Questions } from './Questions.tsx'

interface Props {
  chart: Chart
  number: number
  /** Only shows how the numbers were made: they are of another grain, or of a part. */
  fixed?: boolean
  saving: boolean
  onSave: (segments: SegmentSettings[]) => void
  onRemove: () => void
}

/** One segment: what it is called, what changed, how its numbers were made. */
export function SegmentCard({ chart, number, fixed = false, saving, onSave, onRemove }: Props) {
  const segment = chart.segments[number]
  const settings = segmentSettings(chart)
  const [own, setOwn] = useState(settings[number])
  if (!segment || !own) return null
  const first = number === 0
  if (fixed) return <Text size="sm">{segment.made}</Text>
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        onSave(settings.map((one, n) => (n === number ? own : one)))
      }}
    >
      <Stack gap="sm">
        <Text size="sm">{segment.made}</Text>
        <TextInput
          data-autofocus
          label="Name"
          maxLength={80}
          value={own.name ?? ''}
          placeholder={first ? 'Before' : 'New ramp drill'}
          onChange={(event) => setOwn({ ...own, name: event.currentTarget.value })}
        />
        {!first && (
          <Textarea
            label="What changed"
            maxLength={500}
            autosize
            minRows={2}
            maxRows={5}
            value={own.what_changed ?? ''}
            onChange={(event) => setOwn({ ...own, what_changed: event.currentTarget.value })}
          />
        )}
        {!first && (
          <details>
            <summary>The review of this shift</summary>
            <Questions
              review={own.review ?? {}}
              onChange={(review) => setOwn({ ...own, review })}
            />
            <Text size="sm" className={classes.advice}>
              {segment.advice}
            </Text>
          </details>
        )}
        <Choice
          label="Central line"
          value={own.centre ?? 'mean'}
          data={[
            { value: 'mean', label: 'Average' },
            { value: 'median', label: 'Median' },
          ]}
          onChange={(centre) => setOwn({ ...own, centre })}
        />
        <Choice
          label="Limits from the"
          value={own.spread ?? 'mean_range'}
          data={[
            { value: 'mean_range', label: 'Average mR' },
            { value: 'median_range', label: 'Median mR' },
          ]}
          onChange={(spread) => setOwn({ ...own, spread })}
        />
        <Group justify="space-between">
          <Button type="submit" size="xs" loading={saving}>
            Save segment
          </Button>
          {!first && (
            <Button size="xs" variant="default" onClick={onRemove}>
              Remove shift
            </Button>
          )}
        </Group>
      </Stack>
    </form>
  )
}

function Choice<T extends string>({
  label,
  value,
  data,
  onChange,
}: {
  label: string
  value: T
  data: { value: T; label: string }[]
  onChange: (value: T) => void
}) {
  return (
    <div>
      <Text size="sm" fw={500} mb={2}>
        {label}
      </Text>
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label={label}
        value={value}
        data={data}
        onChange={(chosen) => onChange(chosen as T)}
      />
    </div>
  )
}
