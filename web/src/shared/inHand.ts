// What somebody has in hand: while there is anything, nothing that they look at is pulled away.
import { useEffect } from 'react'

let held = 0
const waiting = new Set<() => void>()

/** Says that something is in hand for as long as `holding` is true. */
export function useInHand(holding: boolean) {
  useEffect(() => {
    if (!holding) return
    held += 1
    return () => {
      held -= 1
      if (held > 0) return
      const acts = [...waiting]
      waiting.clear()
      for (const act of acts) act()
    }
  }, [holding])
}

/** Does something as soon as nothing is in hand; asked for twice, once. */
export function whenHandsAreFree(act: () => void) {
  if (held === 0) act()
  else waiting.add(act)
}
