import type { KeyboardEvent } from 'react'
import { walk } from '../../chart/model/walk.ts'
import { useChartSession } from './ChartSession.tsx'
import { BESIDE_AXIS } from './mode.ts'

/** The keys of a chart: walk its points, and act on the one that is chosen. */
export function useChartKeys() {
  const { look, state, saved, drawn, held, acts, dispatch, belowPoint } = useChartSession()
  const { selected } = state

  /** Makes the selection reach from where it began to a position. */
  function reach(anchor: number, to: number, more: boolean) {
    acts.selectSpan(anchor, to, more)
    dispatch({ type: 'select', position: to })
  }
  return (event: KeyboardEvent<HTMLDivElement>) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    // Escape drops what is in the hand, before it leaves the points.
    if (held && event.key === 'Escape') return
    const next = walk(drawn, selected, event.key)
    if (event.shiftKey && next != null && event.key.startsWith('Arrow')) {
      event.preventDefault()
      const anchor = state.anchor ?? selected ?? next
      reach(anchor, next, state.anchor === null)
      return
    }
    if (event.key === 'Escape' && state.spans.length > 0) {
      dispatch({ type: 'clear spans' })
      return
    }
    const zoom = { '+': 0.6, '=': 0.6, '-': 1 / 0.6 }[event.key]
    if (zoom) {
      event.preventDefault()
      look.zoom(drawn, zoom)
      return
    }
    const key = event.key.toLowerCase()
    const act = { r: acts.placeShift, x: acts.takeAside }[key]
    if (next !== undefined) {
      event.preventDefault()
      dispatch({ type: 'select', position: next })
    } else if (act && selected !== null) {
      event.preventDefault()
      act(selected)
    } else if (key === 's') {
      const at = selected ?? drawn.points.position.at(-1)
      if (at === undefined) return
      event.preventDefault()
      reach(at, at, true)
    } else if (key === 'l') {
      event.preventDefault()
      acts.addLine(BESIDE_AXIS)
    } else if (key === '0') {
      event.preventDefault()
      look.setStretch(null)
    } else if (key === 'f') {
      event.preventDefault()
      const forms = ['points', 'columns', 'steps'] as const
      const next = forms[(forms.indexOf(drawn.kpi.drawn_as) + 1) % forms.length]
      if (next) acts.changeDetails({ drawn_as: next })
    } else if (key === 'e' && !state.trial) {
      // Without a point that is chosen, at the newest one.
      const at = selected ?? saved.points.position.at(-1)
      if (at === undefined) return
      event.preventDefault()
      acts.addEvent(at, belowPoint(at))
    }
  }
}
