import { SegmentedControl } from '@mantine/core'
import { counted } from '../shared/writing.ts'
import classes from './Intake.module.css'
import type { Mode, Reading } from './understood/table.ts'

interface Props {
  difference: NonNullable<Reading['difference']>
  mode: Mode
  onMode: (mode: Mode) => void
}

const MODES: { value: Mode; label: string }[] = [
  { value: 'add', label: 'Add only new' },
  { value: 'update', label: 'Update changed' },
  { value: 'replace', label: 'Replace all' },
]

/** What comes in beside what is there, as counts, and what becomes of it. */
export function Comparison({ difference, mode, onMode }: Props) {
  const { counts } = difference
  return (
    <div className={classes.comparison}>
      <ul className={classes.counts} aria-label="What comes in">
        <li data-mark="new">
          <b>{counts.new.toLocaleString('en-US')}</b> new
        </li>
        <li data-mark="changed">
          <b>{counts.changed.toLocaleString('en-US')}</b> changed
        </li>
        <li>
          <b>{counts.same.toLocaleString('en-US')}</b> the same
        </li>
        <li data-mark="missing">
          <b>{counts.missing.toLocaleString('en-US')}</b> not in the table
        </li>
      </ul>
      <SegmentedControl
        size="xs"
        data={MODES}
        value={mode}
        onChange={(value) => onMode(value as Mode)}
        aria-label="What becomes of values that are there"
      />
      <p className="quiet">{whatHappens(difference, mode)}</p>
    </div>
  )
}

/** How many values a mode would write or remove. */
export function touched(difference: NonNullable<Reading['difference']>, mode: Mode): number {
  const { counts } = difference
  return (
    counts.new + (mode === 'add' ? 0 : counts.changed) + (mode === 'replace' ? counts.missing : 0)
  )
}

function whatHappens(difference: NonNullable<Reading['difference']>, mode: Mode): string {
  const { counts } = difference
  if (touched(difference, mode) === 0) return 'Nothing would change.'
  const parts = [
    counts.new ? `${counted(counts.new, 'value')} ${counts.new === 1 ? 'comes' : 'come'} in` : '',
  ]
  if (counts.changed) {
    parts.push(
      mode === 'add'
        ? `${counted(counts.changed, 'changed value')} ${counts.changed === 1 ? 'stays as it is' : 'stay as they are'}`
        : `${counted(counts.changed, 'value')} ${are(counts.changed)} overwritten`,
    )
  }
  if (counts.missing) {
    parts.push(
      mode === 'replace'
        ? `${counted(counts.missing, 'value')} not in the table ${are(counts.missing)} removed`
        : `${counted(counts.missing, 'value')} not in the table ${counts.missing === 1 ? 'stays' : 'stay'}`,
    )
  }
  return `${parts.filter(Boolean).join('; ')}. All of it can be undone.`
}

function are(count: number): string {
  return count === 1 ? 'is' : 'are'
}
