// How an act takes effect: what it is done on, and whether it is kept or tried.
import { notifications } from '@mantine/notifications'
import type { Dispatch } from 'react'
import { Problem } from '../../api/client.ts'
import { notifyProblem } from '../../shared/notifications.tsx'
import type { useChartActs } from '../data/acts.ts'
import { type Intent, settle } from '../data/change.ts'
import type { Chart, SavedChart, View } from '../data/chart.ts'
import type { Session, SessionEvent } from './mode.ts'

export const say = (message: string) => notifications.show({ message })

export interface On {
  kpi: string
  saved: SavedChart | undefined
  base: Chart | undefined
  view: View
  whole: boolean
  state: Session
  dispatch: Dispatch<SessionEvent>
  writes: ReturnType<typeof useChartActs>
  /** Whether the person may change the chart; who may not tries things on their own screen. */
  mayEdit: boolean
  /** Whether they may add values and events, and take back what they added. */
  mayAdd: boolean
}

/** Whether an act is only tried. */
export const isTried = ({ state, mayEdit }: On) => state.trial !== null || !mayEdit

/** Keeps settings, or adds them to the trial; `done` once that is so, `after` in any case. */
export function apply(
  on: On,
  intent: Intent,
  { done, after }: { done?: () => void; after?: () => void } = {},
) {
  const { base, dispatch, writes } = on
  if (!isTried(on) || !base) {
    // A refused draft goes back to where it was; the notice has said why.
    writes.change.mutate(intent, { onSuccess: () => done?.(), onSettled: () => after?.() })
    return
  }
  try {
    // Tried out on what is tried already, it has to have room there.
    settle(intent, base)
    dispatch({ type: 'try', more: { intents: [intent] } })
    done?.()
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    notifyProblem(error)
  }
  after?.()
}
