import { Button, TextInput } from '@mantine/core'
import type { Chart } from '../../chart/model/types.ts'
import { levelText } from '../../shared/numbers.ts'
import { periodInText } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'
import type { AsideDraft } from '../session/mode.ts'

interface Props {
  saved: Chart
  /** The chart with the draft, once it is known. */
  preview: Chart | null
  draft: AsideDraft
  saving: boolean
  onChange: (draft: AsideDraft) => void
  onKeep: () => void
  onCancel: () => void
  /** Takes back what is in hand, and says so. */
  onUndo: () => void
}

/** What setting a point aside would do to the limits, why it is done, and whether to keep it. */
export function AsideBar({ saved, preview, draft, saving, onChange, ...acts }: Props) {
  const { onKeep, onCancel, onUndo } = acts
  const period = periodInText(draft.period, saved.kpi.grain)
  const title = draft.back ? `Put ${period} back?` : `Set ${period} aside?`
  return (
    <form
      className={`card ${classes.shiftBar}`}
      aria-label={title}
      onSubmit={(event) => {
        event.preventDefault()
        if (draft.back || draft.reason.trim()) onKeep()
      }}
    >
      <div className={classes.shiftWords}>
        <b>{title}</b>
        <span className="quiet" aria-live="polite">
          {preview ? effect(saved, preview, draft.position) : 'Recalculating…'}
        </span>
      </div>
      {!draft.back && (
        <TextInput
          size="xs"
          w={230}
          autoFocus
          aria-label="Why it is set aside"
          placeholder="Why, such as Gale, ramp closed"
          maxLength={200}
          value={draft.reason}
          // With nothing typed that could be undone, the key is for what is in hand.
          onKeyDown={(event) => {
            if (draft.reason || event.key !== 'z' || !(event.ctrlKey || event.metaKey)) return
            event.preventDefault()
            onUndo()
          }}
          onChange={(event) => onChange({ ...draft, reason: event.currentTarget.value })}
        />
      )}
      <Button
        size="xs"
        type="submit"
        color="run"
        loading={saving}
        autoFocus={draft.back}
        disabled={!draft.back && !draft.reason.trim()}
      >
        {draft.back ? 'Put it back' : 'Set aside'}
      </Button>
      <Button size="xs" variant="default" onClick={onCancel}>
        {draft.back ? 'Leave it aside' : 'Leave it in'}
      </Button>
    </form>
  )
}

/** `Average 19.4 → 19.2, limits 16.3 to 22.5 → 16.6 to 21.9`. */
function effect(saved: Chart, preview: Chart, position: number): string {
  const segmentIn = (chart: Chart) =>
    chart.segments.find((segment) => segment.first <= position && position < segment.stop)
  const [was, now] = [segmentIn(saved), segmentIn(preview)]
  const level = (value: number | null | undefined) =>
    value == null ? 'none' : levelText(value, saved.kpi.numbers)
  const limits = (segment: typeof was) =>
    segment?.upper == null ? 'none' : `${level(segment.lower)} to ${level(segment.upper)}`
  return `Average ${level(was?.average)} → ${level(now?.average)}, limits ${limits(was)} → ${limits(now)}`
}
