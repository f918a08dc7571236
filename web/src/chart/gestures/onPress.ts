// What is drawn as a button of an SVG is pressed with the keys of one.
import type { KeyboardEvent } from 'react'

/** Does what a click would, where Enter or the space bar is pressed, and nobody else acts on it. */
export const onPress = (does: () => void) => (event: KeyboardEvent) => {
  if (event.key !== 'Enter' && event.key !== ' ') return
  event.preventDefault()
  event.stopPropagation()
  does()
}
