import { Button, TextInput } from '@mantine/core'
import { periodInText, shortPeriod } from '../chart/format.ts'
import type { Chart } from '../chart/types.ts'
import classes from './ChartPage.module.css'
import type { Draft } from './shift.ts'

interface Props {
  chart: Chart
  draft: Draft
  /** Before and after, with the shift where it is now. */
  comparison: Chart['comparison']
  saving: boolean
  onChange: (draft: Draft) => void
  onKeep: () => void
  onCancel: () => void
}

/** What a shift that is being placed would mean, what to call it, and whether to keep it. */
export function ShiftBar({ chart, draft, comparison, saving, onChange, onKeep, onCancel }: Props) {
  const { grain } = chart.kpi
  const averages = comparison?.rows[0]
  return (
    <form
      className={`card ${classes.shiftBar}`}
      aria-label="Process shift"
      onSubmit={(event) => {
        event.preventDefault()
        onKeep()
      }}
    >
      <div className={classes.shiftWords}>
        <b>Process shift from {periodInText(draft.period, grain)}</b>
        <span className="quiet" aria-live="polite">
          {averages ? `${averages.name} ${averages.before} → ${averages.after}` : 'Recalculating…'}
        </span>
      </div>
      {draft.from === null && (
        <>
          <TextInput
            size="xs"
            aria-label="Name of the new segment"
            placeholder="Name, such as New ramp drill"
            maxLength={80}
            value={draft.name}
            onChange={(event) => onChange({ ...draft, name: event.currentTarget.value })}
          />
          <TextInput
            size="xs"
            aria-label="What changed"
            placeholder="What changed"
            maxLength={500}
            value={draft.what_changed}
            onChange={(event) => onChange({ ...draft, what_changed: event.currentTarget.value })}
          />
        </>
      )}
      <Button size="xs" type="submit" color="run" loading={saving}>
        Recalculate from {shortPeriod(draft.period, grain)}
      </Button>
      <Button size="xs" variant="default" onClick={onCancel}>
        Keep limits as they were
      </Button>
    </form>
  )
}
