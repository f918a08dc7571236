import { Button } from '@mantine/core'
import type { Chart } from '../../chart/model/types.ts'
import { levelText } from '../../shared/numbers.ts'
import { periodInText, shortPeriod } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'
import type { ShiftDraft } from '../session/drafts/shift.ts'

interface Props {
  chart: Chart
  draft: ShiftDraft
  /** The chart with the shift where it is now; null while it is worked out. */
  preview: Chart | null
  saving: boolean
  onKeep: () => void
  onCancel: () => void
}

/** What moving a shift would mean, and whether to keep it there. */
export function ShiftBar({ chart, draft, preview, saving, onKeep, onCancel }: Props) {
  const { grain, numbers } = chart.kpi
  const number = preview?.segments.findIndex((segment) => segment.start === draft.period) ?? -1
  const [before, after] = [preview?.segments[number - 1], preview?.segments[number]]
  const average = (segment: Chart['segments'][number]) =>
    segment.average == null ? 'none' : levelText(segment.average, numbers)
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
          {before && after ? `Average ${average(before)} → ${average(after)}` : 'Recalculating…'}
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
