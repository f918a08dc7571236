import { useCallback, useState } from 'react'

/** How wide and high the inside of an element is, known before it is first painted.
 *
 * What draws by a width draws at once then, and nothing below it moves when it does.
 */
export function useSize<T extends HTMLElement = HTMLDivElement>() {
  const [size, setSize] = useState({ width: 0, height: 0 })
  const ref = useCallback((element: T | null) => {
    if (!element) return
    const measure = () => {
      const now = insideOf(element)
      setSize((old) => (old.width === now.width && old.height === now.height ? old : now))
    }
    measure()
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  return { ref, ...size }
}

function insideOf(element: HTMLElement) {
  const style = getComputedStyle(element)
  const around = (...names: string[]) =>
    names.reduce((sum, name) => sum + (Number.parseFloat(style.getPropertyValue(name)) || 0), 0)
  const { width, height } = element.getBoundingClientRect()
  const sides = ['padding-left', 'padding-right', 'border-left-width', 'border-right-width']
  const ends = ['padding-top', 'padding-bottom', 'border-top-width', 'border-bottom-width']
  return {
    width: Math.max(0, width - around(...sides)),
    height: Math.max(0, height - around(...ends)),
  }
}
