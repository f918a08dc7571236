import { Button } from '@mantine/core'
import type { Chart } from '../../chart/model/types.ts'
import { levelText } from '../../shared/numbers.ts'
import { counted } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'

interface Props {
  saved: Chart
  tried: Chart
  changed: boolean
  /** Whether the chart as it is shows at the moment. */
  real: boolean
  saving: boolean
  /** Whether it may be kept by who tries it. */
  mayKeep: boolean
  onReal: (real: boolean) => void
  onKeep: () => void
  onDiscard: () => void
}

/** Marks that nothing here is kept, what differs from the chart as it is, and the ways out. */
export function TrialBar(props: Props) {
  const { saved, tried, changed, real, saving, mayKeep, onReal, onKeep, onDiscard } = props
  return (
    <form
      className={`card ${classes.trial}`}
      aria-label="Trial"
      onSubmit={(event) => {
        event.preventDefault()
        if (mayKeep) onKeep()
      }}
    >
      <div className={classes.shiftWords}>
        <b>
          {mayKeep
            ? 'Trial: nothing here is kept'
            : 'Only on your screen: others see the chart as it was'}
        </b>
        <span className="quiet" aria-live="polite">
          {changed
            ? difference(saved, tried)
            : 'Change a value, a segment, a baseline, a rule or the target, and see what comes of it.'}
        </span>
      </div>
      <Button
        size="xs"
        variant="default"
        aria-pressed={real}
        disabled={!changed}
        onClick={() => onReal(!real)}
      >
        {real ? 'Show the trial' : 'Show the real chart'}
      </Button>
      {mayKeep && (
        <Button size="xs" type="submit" color="run" loading={saving} disabled={!changed}>
          Keep all of it
        </Button>
      )}
      <Button size="xs" variant="default" onClick={onDiscard}>
        Discard
      </Button>
    </form>
  )
}

/** `Average 19.4 → 19.0, limits 16.3 to 22.5 → 16.7 to 21.2, 2 → 3 signals`. */
function difference(saved: Chart, tried: Chart): string {
  const [was, now] = [saved.segments.at(-1), tried.segments.at(-1)]
  const level = (value: number | null | undefined) =>
    value == null ? 'none' : levelText(value, saved.kpi.numbers)
  const limits = (segment: typeof was) =>
    segment?.upper == null ? 'none' : `${level(segment.lower)} to ${level(segment.upper)}`
  return `Average ${level(was?.average)} → ${level(now?.average)}, limits ${limits(was)} → ${limits(now)}, ${saved.finding_count} → ${counted(tried.finding_count, 'finding')}`
}
