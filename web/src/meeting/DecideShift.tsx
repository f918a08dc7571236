import { Button, Group, Select, Stack, Text, Textarea } from '@mantine/core'
import { useState } from 'react'
import type { KpiPath } from '../api/keys.ts'
import { useChartActs } from '../chart-page/data/acts.ts'
import { type Review, useChart } from '../chart-page/data/chart.ts'
import { Questions } from '../chart-page/review/Questions.tsx'
import { keepingLimits, shifting } from '../chart-page/session/drafts/intents.ts'
import { VIEW } from './Shown.tsx'

/** Whether the process has shifted, decided in the meeting: what speaks for it, and the reason. */
export function DecideShift({ path }: { path: KpiPath }) {
  const chart = useChart(path, VIEW)
  const acts = useChartActs(path, VIEW)
  const [chosen, setChosen] = useState('')
  const [why, setWhy] = useState('')
  const [review, setReview] = useState<Review>({})
  const [decided, setDecided] = useState('')
  const data = chart.data
  if (!data) return null
  // The newest first: what is older has waited for longer, and is history mostly.
  const open = [...data.candidates].reverse()
  const candidate = open.find(({ period }) => period === chosen) ?? open[0]
  const reason = why.trim()

  function done(said: string) {
    setDecided(said)
    setChosen('')
    setWhy('')
    setReview({})
  }

  if (decided)
    return (
      <Group gap="xs">
        <Text size="sm" role="status">
          {decided}
        </Text>
        <Button
          size="compact-xs"
          variant="default"
          loading={acts.undo.isPending}
          onClick={() => acts.undo.mutate(undefined, { onSuccess: () => setDecided('') })}
        >
          Undo
        </Button>
      </Group>
    )
  if (!candidate) return <p className="quiet">No shift is asked about on this chart.</p>
  const { label, period, position, text } = candidate
  return (
    <form
      aria-label="Process shift"
      onSubmit={(event) => {
        event.preventDefault()
        const draft = { from: null, position, period, name: '', what_changed: reason, review }
        acts.change.mutate(shifting(draft), {
          onSuccess: () => done(`Limits are recalculated from ${label}.`),
        })
      }}
    >
      <Stack gap="xs">
        <b>Is this a process shift?</b>
        {open.length > 1 && (
          <Select
            size="xs"
            label="From"
            allowDeselect={false}
            comboboxProps={{ withinPortal: false }}
            data={open.map((one) => ({ value: one.period, label: one.label }))}
            value={period}
            onChange={(value) => setChosen(value ?? '')}
          />
        )}
        <Text size="sm">{text}</Text>
        <Questions review={review} onChange={setReview} />
        <Textarea
          size="xs"
          label="What changed, or why the limits stay"
          maxLength={500}
          autosize
          minRows={1}
          maxRows={4}
          value={why}
          onChange={(event) => setWhy(event.currentTarget.value)}
        />
        <Group gap="xs">
          <Button size="xs" type="submit" color="run" loading={acts.change.isPending}>
            Recalculate from {label}
          </Button>
          <Button
            size="xs"
            variant="default"
            disabled={!reason || acts.change.isPending}
            onClick={() =>
              acts.change.mutate(keepingLimits(period, reason, review), {
                onSuccess: () => done('It is on record that the limits stay.'),
              })
            }
          >
            Keep limits
          </Button>
        </Group>
      </Stack>
    </form>
  )
}
