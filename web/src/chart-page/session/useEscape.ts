import { useEffect } from 'react'

/**
 * Lets Escape drop what is in the hand, wherever the focus is.
 *
 * Not where something nearer takes it: a drag that goes on, or a card or a list that is open.
 */
export function useEscape(holding: boolean, drop: () => void) {
  useEffect(() => {
    if (!holding) return
    const onKey = (event: KeyboardEvent) => {
      const open = document.querySelector('[role="dialog"], [role="listbox"], [role="menu"]')
      if (event.key === 'Escape' && !open) drop()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [holding, drop])
}
