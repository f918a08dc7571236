import { Button } from '@mantine/core'
import type { Chart } from '../../chart/model/types.ts'
import { periodInText, shortPeriod } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'
import type { ShiftDraft } from '../session/drafts/shift.ts'

interface Props {
  chart: Chart
  draft: ShiftDraft
  /** Before and after, with the shift where it is now. */
  comparison: Chart['comparison']
  saving: boolean
  onKeep: () => void
  onCancel: () => void
}

/** What moving a shift would mean, and whether to keep it there. */
export function ShiftBar({ chart, draft, comparison, saving, onKeep, onCancel }: Props) {
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
      <Button size="xs" type="submit" color="run" loading={saving}>
        Recalculate from {shortPeriod(draft.period, grain)}
      </Button>
      <Button size="xs" variant="default" onClick={onCancel}>
        Keep limits as they were
      </Button>
    </form>
  )
}
