import type { KeyboardEvent } from 'react'
import type { ShiftHandles } from '../../chart/layers/lane/Lane.tsx'
import { useChartSession } from './ChartSession.tsx'
import { type ShiftDraft, shiftAt, shiftOf, shiftStepped } from './drafts/shift.ts'

const STEPS: Record<string, -1 | 1> = { ArrowLeft: -1, ArrowRight: 1 }

/** What moves the shifts of a chart, by hand and by keys. */
export function useShiftHandles(): ShiftHandles {
  const { base, held, dispatch, acts } = useChartSession()
  const shift = held?.kind === 'shift' ? held : null
  const draft = shift?.draft ?? null

  const hold = (held: ShiftDraft, dragging: boolean) =>
    dispatch({ type: 'hold', held: { kind: 'shift', draft: held, dragging } })

  /** Keeps a shift where it was put down; a new one stays in the hand until it is reviewed. */
  function putDown(dropped: ShiftDraft) {
    if (dropped.from === null) dispatch({ type: 'edit shift', draft: dropped, dragging: false })
    else if (dropped.period === dropped.from) dispatch({ type: 'drop' })
    else {
      dispatch({ type: 'edit shift', draft: dropped, dragging: false })
      acts.keepShift(dropped)
    }
  }

  function onKey(number: number, event: KeyboardEvent) {
    const by = STEPS[event.key]
    if (by) {
      event.preventDefault()
      event.stopPropagation()
      const from = draft ?? shiftOf(base, number)
      if (from) hold(shiftStepped(base, from, by), false)
    } else if (event.key === 'Enter' && draft) {
      event.preventDefault()
      event.stopPropagation()
      if (draft.period === draft.from) dispatch({ type: 'drop' })
      else acts.keepShift(draft)
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && !draft) {
      event.preventDefault()
      acts.removeShift(base.segments[number]?.start)
    }
  }

  return {
    onHold: (number) => {
      // While a new shift is in the hand, its own handle is the one that moves.
      const shift = draft?.from === null ? draft : shiftOf(base, number)
      if (shift) hold(shift, true)
      return shift !== null
    },
    onMove: (position) => {
      if (draft) dispatch({ type: 'edit shift', draft: shiftAt(base, draft, position) })
    },
    onDrop: () => {
      if (draft) putDown(draft)
    },
    // A new shift stays in the hand; one that was on its way goes back.
    onCancel: () => {
      if (draft?.from === null) dispatch({ type: 'edit shift', draft, dragging: false })
      else dispatch({ type: 'drop' })
    },
    onKey,
  }
}
