// One hairline for all that is on a screen: what follows it draws itself anew, nothing else does.
import { createContext, type ReactNode, useContext, useState, useSyncExternalStore } from 'react'

export interface Hairline {
  get: () => number | null
  set: (time: number | null) => void
  subscribe: (changed: () => void) => () => void
}

function makeHairline(): Hairline {
  let time: number | null = null
  const listening = new Set<() => void>()
  return {
    get: () => time,
    set: (next) => {
      if (next === time) return
      time = next
      for (const changed of listening) changed()
    },
    subscribe: (changed) => {
      listening.add(changed)
      return () => listening.delete(changed)
    },
  }
}

const Context = createContext<Hairline>(makeHairline())

export function HairlineProvider({ children }: { children: ReactNode }) {
  const [hairline] = useState(makeHairline)
  return <Context.Provider value={hairline}>{children}</Context.Provider>
}

export const useHairline = () => useContext(Context)

/** Where the hairline is in time; null where there is none. */
export function useHairlineTime(): number | null {
  const hairline = useHairline()
  return useSyncExternalStore(hairline.subscribe, hairline.get)
}
