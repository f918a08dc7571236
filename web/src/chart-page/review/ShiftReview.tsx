import { Button, Group, Text, Textarea, TextInput } from '@mantine/core'
import { useState } from 'react'
import { useVocabulary, type Vocabulary } from '../../api/vocabulary.ts'
import type { Chart } from '../../chart/model/types.ts'
import { NameSuggestions } from '../../for-you/NameSuggestions.tsx'
import { WhatMadeIt } from '../../shared/contributions/WhatMadeIt.tsx'
import { DayInput } from '../../shared/day/DayInput.tsx'
import { levelText } from '../../shared/numbers.ts'
import { counted, periodInText, shortPeriod } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'
import type { KpiPath } from '../data/chart.ts'
import type { ShiftDraft } from '../session/drafts/shift.ts'
import { Questions } from './Questions.tsx'
import styles from './Review.module.css'

interface Props {
  /** The KPI whose parts can be asked for; null where it has none. */
  told: KpiPath | null
  saved: Chart
  /** The chart with the shift, once it is known, and the segment that begins with it. */
  preview: Chart | null
  /** The candidate that the shift begins at, where it is one. */
  candidate: Chart['candidates'][number] | undefined
  number: number
  draft: ShiftDraft
  saving: boolean
  onChange: (draft: ShiftDraft) => void
  /** Moves the draft to the point of a date, or the next one after it. */
  onDate: (date: string) => void
  onKeep: () => void
  onKeepLimits: (reason: string) => void
  onCancel: () => void
}

/** Is this a process shift? What speaks for it, what would change, and the decision with its reasons. */
export function ShiftReview(props: Props) {
  const {
    told,
    saved,
    preview,
    candidate,
    number,
    draft,
    saving,
    onChange,
    onKeep,
    onKeepLimits,
    onCancel,
  } = props
  const { grain } = saved.kpi
  const now = saved.segments.find(
    (segment) => segment.first <= draft.position && draft.position < segment.stop,
  )
  const then = preview?.segments[number]
  const [deciding, setDeciding] = useState(false)
  const vocabulary = useVocabulary()
  const why = draft.what_changed.trim()
  return (
    <form
      className={`card ${styles.review}`}
      aria-label="Process shift"
      onSubmit={(event) => {
        event.preventDefault()
        if (deciding) {
          if (why) onKeepLimits(why)
        } else onKeep()
      }}
    >
      <Group justify="space-between" wrap="nowrap">
        <h2>Is this a process shift?</h2>
        <Button size="compact-xs" variant="subtle" onClick={onCancel}>
          Decide later
        </Button>
      </Group>
      <p className="quiet">
        Process shift from {periodInText(draft.period, grain)}
        {then && `, ${counted(then.stop - then.first, grain)} so far`}. {candidate?.likely}
      </p>
      <Group gap="xs" wrap="nowrap" grow>
        {grain !== 'hour' && (
          <DayInput
            size="xs"
            aria-label="First period of the shift"
            min={saved.points.period[1]}
            max={saved.points.period.at(-1)}
            value={draft.period}
            onChange={(day) => day && props.onDate(day)}
          />
        )}
        {!deciding && (
          <TextInput
            size="xs"
            aria-label="Name of the new segment"
            placeholder="Name it"
            maxLength={80}
            value={draft.name}
            onChange={(event) => onChange({ ...draft, name: event.currentTarget.value })}
          />
        )}
      </Group>
      {told && (
        <WhatMadeIt path={told} asked={{ first: draft.period, shift: true }} key={draft.period} />
      )}
      <Questions review={draft.review} onChange={(review) => onChange({ ...draft, review })} />
      <Text size="sm" role="status" className={classes.advice}>
        {then?.advice ?? '…'}
      </Text>
      <Textarea
        size="xs"
        aria-label={deciding ? 'Why the limits are kept' : 'What changed'}
        placeholder={deciding ? 'Why the limits are kept' : 'What changed'}
        maxLength={500}
        autosize
        minRows={1}
        maxRows={4}
        value={draft.what_changed}
        onChange={(event) => onChange({ ...draft, what_changed: event.currentTarget.value })}
      />
      <NameSuggestions
        text={draft.what_changed}
        onChange={(what_changed) => onChange({ ...draft, what_changed })}
      />
      <Numbers saved={saved} now={now} then={then} />
      <Text size="sm" c="dimmed">
        {then && vocabulary ? firmness(then, saved, vocabulary) : 'Recalculating…'}
      </Text>
      {deciding ? (
        <Group gap="xs" className={styles.decision}>
          <Button size="xs" type="submit" loading={saving} disabled={!why}>
            Record that the limits stay
          </Button>
          <Button size="xs" variant="default" onClick={() => setDeciding(false)}>
            Back
          </Button>
        </Group>
      ) : (
        <Group gap="xs" className={styles.decision}>
          <Button size="xs" type="submit" color="run" loading={saving}>
            Recalculate from {shortPeriod(draft.period, grain)}
          </Button>
          <Button size="xs" variant="default" onClick={() => setDeciding(true)}>
            Keep limits
          </Button>
        </Group>
      )}
    </form>
  )
}

type Segment = Chart['segments'][number] | undefined

/** Limits now against recalculated. */
function Numbers({ saved, now, then }: { saved: Chart; now: Segment; then: Segment }) {
  const level = (value: number | null | undefined) =>
    value == null ? '\u2014' : levelText(value, saved.kpi.numbers)
  const rows: [
    string,
    keyof NonNullable<Segment> & ('average' | 'upper' | 'lower' | 'range_limit'),
  ][] = [
    ['Average', 'average'],
    ['Upper limit', 'upper'],
    ['Lower limit', 'lower'],
    ['Range limit', 'range_limit'],
  ]
  return (
    <table className={classes.comparison}>
      <caption>If limits are recalculated from here</caption>
      <thead>
        <tr>
          <td />
          <th scope="col">now</th>
          <th scope="col">recalculated</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, field]) => (
          <tr key={name}>
            <th scope="row">{name}</th>
            <td>{level(now?.[field])}</td>
            <td>
              <b>{level(then?.[field])}</b>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function firmness(then: NonNullable<Segment>, saved: Chart, vocabulary: Vocabulary): string {
  const count = counted(then.n, saved.kpi.grain)
  const { values_for_limits: few, values_for_firm_limits: enough } = vocabulary
  if (then.firmness === 'none') return `${count} so far: limits come with ${few} values.`
  return then.firmness === 'provisional'
    ? `${count} give provisional limits; they firm up with every ${saved.kpi.grain} until there are ${enough}.`
    : `${count} give firm limits.`
}
