// Zooming with the wheel and the Ctrl key, which is also what two fingers on a pad send.
import { useEffect, useRef, useState } from 'react'

/** Milliseconds in which turns of the wheel are gathered into one. */
const GATHERED = 70
/** Pixels of turning that make the dates e times as many, and the most that one turn can do. */
const [A_TURN, MOST] = [400, 600]

/** Returns a ref for the element; `zoom` gets so many times the dates, and where, in pixels. */
export function useWheelZoom(zoom: (factor: number, px: number) => void) {
  const latest = useRef(zoom)
  latest.current = zoom
  const [element, setElement] = useState<HTMLElement | null>(null)
  useEffect(() => {
    if (!element) return
    let turns = 0
    let timer: number | null = null
    function turned(event: WheelEvent) {
      if (!element || !(event.ctrlKey || event.metaKey)) return
      event.preventDefault()
      turns += event.deltaY
      const px = event.clientX - element.getBoundingClientRect().left
      timer ??= window.setTimeout(() => {
        timer = null
        latest.current(Math.exp(Math.max(-MOST, Math.min(MOST, turns)) / A_TURN), px)
        turns = 0
      }, GATHERED)
    }
    // React listens passively, and the browser would zoom the page instead.
    element.addEventListener('wheel', turned, { passive: false })
    return () => {
      element.removeEventListener('wheel', turned)
      if (timer !== null) window.clearTimeout(timer)
    }
  }, [element])
  return setElement
}
