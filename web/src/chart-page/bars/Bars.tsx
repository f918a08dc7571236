import { lazy, Suspense } from 'react'
import { Notice } from '../../shared/Notice.tsx'
import { useChartSession } from '../session/ChartSession.tsx'
import { canUndo } from '../session/drafts/trial.ts'

// Each comes with the first of its kind.
const HeldBar = lazy(async () => ({ default: (await import('./HeldBar.tsx')).HeldBar }))
const TrialBar = lazy(async () => ({ default: (await import('./TrialBar.tsx')).TrialBar }))

/** What is tried and what is in the hand, above the chart, each with its ways out. */
export function Bars() {
  const { state, dispatch, saved, base, held, acts, may, previewError } = useChartSession()
  return (
    <>
      {state.trial && (
        <Suspense>
          <TrialBar
            saved={saved}
            tried={base}
            changed={canUndo(state.trial)}
            real={state.real}
            saving={acts.keepingTrial}
            mayKeep={may.edit}
            onReal={(real) => dispatch({ type: 'show real', real })}
            onKeep={acts.keepTrial}
            onDiscard={() => dispatch({ type: 'end trial' })}
          />
        </Suspense>
      )}
      {held && (
        <Suspense>
          <HeldBar />
        </Suspense>
      )}
      {previewError && <Notice error={previewError} />}
    </>
  )
}
