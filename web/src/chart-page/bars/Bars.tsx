import type { Chart } from '../../chart/model/types.ts'
import { Notice } from '../../shared/Notice.tsx'
import type { SavedChart, useChartActs } from '../session/chart.ts'
import type { Draft, useShift } from '../session/shift.ts'
import { requestOf, type useTrial } from '../session/trial.ts'
import { AsideBar, type AsideDraft } from './AsideBar.tsx'
import { BaselineBar, type BaselineDraft } from './BaselineBar.tsx'
import { ShiftBar } from './ShiftBar.tsx'
import { TrialBar } from './TrialBar.tsx'

interface Props {
  saved: SavedChart
  /** The chart that acts are done on: as it is kept, or as it is tried. */
  base: Chart
  drawn: Chart
  /** Whether what is drawn is the preview of the draft. */
  previewing: boolean
  trial: ReturnType<typeof useTrial>
  real: boolean
  acts: ReturnType<typeof useChartActs>
  shift: ReturnType<typeof useShift>
  aside: AsideDraft | null
  baseline: BaselineDraft | null
  error: Error | null | false
  onReal: (real: boolean) => void
  onAside: (draft: AsideDraft) => void
  onKeepShift: (draft: Draft) => void
  onKeepAside: (draft: AsideDraft) => void
  onKeepBaseline: (draft: BaselineDraft) => void
  /** Drops whatever is in the hand. */
  onDrop: () => void
}

/** What is in the hand, above the chart: a trial, a moved shift, a point, a baseline. */
export function Bars(props: Props) {
  const { saved, base, trial, acts, shift, aside, baseline, onReal, onDrop } = props
  const { draft } = shift
  const preview = props.previewing ? props.drawn : null
  const { now } = trial
  return (
    <>
      {now && (
        <TrialBar
          saved={saved}
          tried={base}
          changed={trial.changed}
          real={props.real}
          saving={acts.trial.isPending}
          onReal={onReal}
          onKeep={() =>
            acts.trial.mutate(requestOf(now), {
              onSuccess: () => {
                onReal(false)
                trial.end()
              },
            })
          }
          onDiscard={() => {
            onReal(false)
            onDrop()
            trial.end()
          }}
        />
      )}
      {draft && draft.from !== null && !shift.dragging && (
        <ShiftBar
          chart={base}
          draft={draft}
          comparison={preview?.comparison ?? null}
          saving={acts.change.isPending}
          onKeep={() => props.onKeepShift(draft)}
          onCancel={onDrop}
        />
      )}
      {aside && !draft && (
        <AsideBar
          saved={base}
          preview={preview}
          draft={aside}
          saving={acts.aside.isPending}
          onChange={props.onAside}
          onKeep={() => props.onKeepAside(aside)}
          onCancel={onDrop}
        />
      )}
      {baseline && (
        <BaselineBar
          chart={base}
          preview={preview}
          draft={baseline}
          saving={acts.change.isPending}
          onKeep={() => props.onKeepBaseline(baseline)}
          onCancel={onDrop}
        />
      )}
      {props.error && <Notice error={props.error} />}
    </>
  )
}
