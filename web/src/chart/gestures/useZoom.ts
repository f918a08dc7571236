// Zooming: the wheel with the Ctrl key, which is also what a pad sends of two fingers, and two
// fingers on a screen.
import { useEffect, useRef, useState } from 'react'

/** Milliseconds in which what the hand does is gathered into one. */
const GATHERED = 70
/** Pixels of turning that make the dates e times as many. */
const A_TURN = 400
/** The most that is zoomed at once, as a logarithm. */
const MOST = 1.5

/** Returns a ref for the element; `zoom` gets so many times the dates, and where, in pixels. */
export function useZoom(zoom: (factor: number, px: number) => void) {
  const latest = useRef(zoom)
  latest.current = zoom
  const [element, setElement] = useState<HTMLElement | null>(null)
  useEffect(() => {
    if (!element) return
    const listening = new AbortController()
    let gathered = 0
    let timer: number | null = null
    function gather(more: number, clientX: number) {
      if (!element) return
      gathered += more
      const px = clientX - element.getBoundingClientRect().left
      timer ??= window.setTimeout(() => {
        timer = null
        latest.current(Math.exp(Math.max(-MOST, Math.min(MOST, gathered))), px)
        gathered = 0
      }, GATHERED)
    }
    function turned(event: WheelEvent) {
      if (!(event.ctrlKey || event.metaKey)) return
      event.preventDefault()
      gather(event.deltaY / A_TURN, event.clientX)
    }
    let apart: number | null = null
    function touched(event: TouchEvent) {
      const [one, other] = event.touches
      if (!one || !other) {
        apart = null
        return
      }
      event.preventDefault()
      const now = Math.hypot(one.clientX - other.clientX, one.clientY - other.clientY)
      if (apart && now) gather(Math.log(apart / now), (one.clientX + other.clientX) / 2)
      apart = now
    }
    // React listens passively, and the browser would zoom the page instead.
    const way = { passive: false, signal: listening.signal }
    element.addEventListener('wheel', turned, way)
    element.addEventListener('touchstart', touched, way)
    element.addEventListener('touchmove', touched, way)
    element.addEventListener('touchend', touched, way)
    return () => {
      listening.abort()
      if (timer !== null) window.clearTimeout(timer)
    }
  }, [element])
  return setElement
}
