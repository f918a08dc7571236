import { Button } from '@mantine/core'
import { useVocabulary } from '../../api/vocabulary.ts'
import type { Chart } from '../../chart/model/types.ts'
import { levelText } from '../../shared/numbers.ts'
import { counted, shortPeriod } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'
import { type BaselineDraft, takingPart, windowOf } from '../session/drafts/baseline.ts'

interface Props {
  chart: Chart
  /** The chart with the baseline, once it is known. */
  preview: Chart | null
  draft: BaselineDraft
  saving: boolean
  onKeep: () => void
  onCancel: () => void
}

/** What limits from a baseline would be, and whether to keep it. */
export function BaselineBar({ chart, preview, draft, saving, onKeep, onCancel }: Props) {
  const { grain, numbers } = chart.kpi
  const [first, last] = windowOf(chart, draft).map((period) => shortPeriod(period, grain))
  const count = takingPart(chart, draft)
  const least = useVocabulary()?.values_for_limits ?? 0
  const few = count < least
  const segment = preview?.segments.find((segment) => segment.start === draft.start)
  const level = (value: number | null | undefined) =>
    value == null ? 'none' : levelText(value, numbers)
  return (
    <form
      className={`card ${classes.shiftBar}`}
      aria-label="Baseline"
      onSubmit={(event) => {
        event.preventDefault()
        if (!few) onKeep()
      }}
    >
      <div className={classes.shiftWords}>
        <b>
          Limits from {first} to {last}, {counted(count, grain)}
        </b>
        <span className="quiet" aria-live="polite">
          {few
            ? `A baseline needs ${least} values; this one has ${count}. Take in more of them.`
            : segment
              ? `Average ${level(segment.average)}, limits ${level(segment.lower)} to ${level(segment.upper)}${segment.firmness === 'provisional' ? ', provisional' : ''}`
              : 'Recalculating…'}
        </span>
      </div>
      <Button size="xs" type="submit" loading={saving} disabled={few}>
        Take limits from these
      </Button>
      <Button size="xs" variant="default" onClick={onCancel}>
        Leave as it is
      </Button>
    </form>
  )
}
