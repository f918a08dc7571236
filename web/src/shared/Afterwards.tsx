import { type ReactNode, startTransition, useEffect, useState } from 'react'

/** What is drawn once the rest stands: what a screen is for does not wait for what is under it. */
export function Afterwards({ children }: { children: ReactNode }) {
  const [here, setHere] = useState(false)
  useEffect(() => startTransition(() => setHere(true)), [])
  return here && children
}
