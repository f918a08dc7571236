// The one way to drag on a chart: shifts, baselines, events along time, the target across it.
import { type PointerEvent, useEffect, useRef } from 'react'

export interface DragActs<T> {
  /** The hand takes hold, at `px` from the left of the chart (or its top); false lets go at once. */
  onHold: (what: T, px: number) => boolean
  /** The hand is at `px` from there, `by` from where it took hold. */
  onMove: (what: T, px: number, by: number) => void
  onDrop: (what: T, by: number) => void
  /** Escape, or a pointer that is lost: everything goes back to where it was. */
  onCancel: (what: T) => void
}

/** Along the time axis, or up and down. */
type Axis = 'x' | 'y'

/**
 * Binds a drag to elements of a chart: `{...bind(what)}`.
 *
 * Mouse, pen and touch are one. What is not pulled past `threshold` pixels is no drag, and
 * stays a click. Listens on the window rather than the element: a shift that is dragged past
 * another changes places with it. Call it where the elements live on while they change. One
 * function, as its listeners all share what is in the hand.
 */
export function useDragAcross<T>(acts: DragActs<T>, threshold = 0, axis: Axis = 'x') {
  // Each step of a drag acts on what is drawn by then.
  const latest = useRef(acts)
  latest.current = acts
  const cancel = useRef<(() => void) | null>(null)
  useEffect(() => () => cancel.current?.(), [])

  function onPointerDown(what: T, event: PointerEvent<SVGElement>) {
    const element = event.currentTarget
    const svg = element.ownerSVGElement
    if (event.button !== 0 || !svg || cancel.current) return
    const box = svg.getBoundingClientRect()
    const edge = axis === 'x' ? box.left : box.top
    const placeOf = (at: { clientX: number; clientY: number }) =>
      axis === 'x' ? at.clientX : at.clientY
    const from = placeOf(event)
    let holding = false
    const hold = () => {
      holding = latest.current.onHold(what, from - edge)
      if (!holding) end()
    }
    const listening = new AbortController()
    const end = () => {
      listening.abort()
      cancel.current = null
    }
    const giveUp = () => {
      end()
      if (holding) latest.current.onCancel(what)
    }
    const listen = <K extends keyof WindowEventMap>(
      type: K,
      then: (event: WindowEventMap[K]) => void,
    ) => window.addEventListener(type, then, { signal: listening.signal, capture: true })

    cancel.current = giveUp
    if (threshold === 0) {
      event.preventDefault()
      element.focus()
      hold()
      if (!holding) return
    }
    listen('pointermove', (moved) => {
      const at = placeOf(moved)
      if (!holding && Math.abs(at - from) > threshold) hold()
      if (holding) latest.current.onMove(what, at - edge, at - from)
    })
    listen('pointerup', (released) => {
      end()
      if (holding) latest.current.onDrop(what, placeOf(released) - from)
    })
    listen('pointercancel', giveUp)
    // A second finger means something else.
    listen('pointerdown', (other) => {
      if (other.isPrimary === false) giveUp()
    })
    // The window's own: that of whatever had the focus comes by here as well.
    listen('blur', (left) => {
      if (!(left.target instanceof Element)) giveUp()
    })
    listen('keydown', (pressed) => {
      if (pressed.key !== 'Escape') return
      // The drag alone is let go of, not whatever else Escape would close.
      pressed.stopImmediatePropagation()
      giveUp()
    })
  }

  return (what: T) => ({
    onPointerDown: (event: PointerEvent<SVGElement>) => onPointerDown(what, event),
  })
}
