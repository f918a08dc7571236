import { lazy, Suspense } from 'react'
import { hasContributions } from '../../shared/contributions/hasContributions.ts'
import { useChartSession } from '../session/ChartSession.tsx'
import { heldSegment } from '../session/drafts/held.ts'
import { type ShiftDraft, shiftOnDate } from '../session/drafts/shift.ts'
import styles from './Review.module.css'

const FindingPanel = lazy(async () => ({
  default: (await import('../../findings/FindingPanel.tsx')).FindingPanel,
}))
const ShiftReview = lazy(async () => ({ default: (await import('./ShiftReview.tsx')).ShiftReview }))

/** What is decided beside a chart: a shift that is reviewed, or a finding that is open. */
export function Side() {
  const { path, look, state, held } = useChartSession()
  if (held?.kind === 'shift' && held.draft.from === null)
    return (
      <Suspense>
        <Review draft={held.draft} />
      </Suspense>
    )
  if (look.finding === null || held || state.trial) return null
  return (
    <aside className={`card ${styles.review}`} aria-label="Finding">
      <Suspense>
        <FindingPanel
          key={look.finding}
          workspace={path.workspace}
          number={look.finding}
          onClose={() => look.openFinding(null)}
        />
      </Suspense>
    </aside>
  )
}

function Review({ draft }: { draft: ShiftDraft }) {
  const { path, base, drawn, previewing, dispatch, acts } = useChartSession()
  const change = (changed: ShiftDraft) => dispatch({ type: 'edit shift', draft: changed })
  return (
    <ShiftReview
      told={hasContributions(base.kpi) ? path : null}
      saved={base}
      preview={previewing ? drawn : null}
      candidate={base.candidates.find((candidate) => candidate.position === draft.position)}
      number={previewing ? heldSegment(base, drawn) : -1}
      draft={draft}
      saving={acts.saving}
      onChange={change}
      onDate={(date) => change(shiftOnDate(base, draft, date))}
      onKeep={() => acts.keepShift(draft)}
      onKeepLimits={(reason) => acts.keepLimits(draft.period, reason, draft.review)}
      onCancel={() => dispatch({ type: 'drop' })}
    />
  )
}
