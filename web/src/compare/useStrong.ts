import { type KeyboardEvent, useState } from 'react'

/** Which of several is brought out: by hover, click, or the arrow keys in the table beside. */
export function useStrong(names: string[]) {
  const [held, setHeld] = useState<string | null>(null)
  const [hovered, setHovered] = useState<string | null>(null)
  const strong = [hovered, held].find((name) => name !== null && names.includes(name)) ?? null
  return {
    strong,
    hold: (name: string | null) => setHeld(name === held ? null : name),
    bring: setHeld,
    hover: setHovered,
    onKey: (event: KeyboardEvent<HTMLElement>) => {
      const by = { ArrowDown: 1, ArrowUp: -1 }[event.key]
      const buttons = [...event.currentTarget.querySelectorAll<HTMLElement>('button[data-name]')]
      const at = buttons.indexOf(document.activeElement as HTMLElement)
      if (!by || at < 0) return
      event.preventDefault()
      const next = buttons[at + by]
      next?.focus()
      // The pointer that still lies somewhere has said less lately than the keys.
      setHovered(null)
      if (next?.dataset.name) setHeld(next.dataset.name)
    },
  }
}
