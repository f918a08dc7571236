import type { KeyboardEvent } from 'react'
import { walk } from '../../chart/model/walk.ts'
import { useChartSession } from './ChartSession.tsx'

/** The keys of a chart: walk its points, and act on the one that is chosen. */
export function useChartKeys() {
  const { state, saved, drawn, held, acts, dispatch, belowPoint } = useChartSession()
  const { selected } = state
  return (event: KeyboardEvent<HTMLDivElement>) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    // Escape drops what is in the hand, before it leaves the points.
    if (held && event.key === 'Escape') return
    const next = walk(drawn, selected, event.key)
    const key = event.key.toLowerCase()
    const act = { r: acts.placeShift, x: acts.takeAside }[key]
    if (next !== undefined) {
      event.preventDefault()
      dispatch({ type: 'select', position: next })
    } else if (act && selected !== null) {
      event.preventDefault()
      act(selected)
    } else if (key === 'e' && !state.trial) {
      // Without a point that is chosen, at the newest one.
      const at = selected ?? saved.points.position.at(-1)
      if (at === undefined) return
      event.preventDefault()
      acts.addEvent(at, belowPoint(at))
    }
  }
}
