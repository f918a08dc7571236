// One hairline for all that is on a screen: what follows it draws itself anew, nothing else does.
import { createContext, type ReactNode, useContext, useState, useSyncExternalStore } from 'react'
import { type Outside, outside } from '../api/outside.ts'

/** Where it is in time; null where there is none. */
export type Hairline = Outside<number | null>

const makeHairline = () => outside<number | null>(null)

const Context = createContext<Hairline>(makeHairline())

export function HairlineProvider({ children }: { children: ReactNode }) {
  const [hairline] = useState(makeHairline)
  return <Context.Provider value={hairline}>{children}</Context.Provider>
}

export const useHairline = () => useContext(Context)

/** Where the hairline is in time; null where there is none. */
export function useHairlineTime(): number | null {
  const hairline = useHairline()
  return useSyncExternalStore(hairline.subscribe, hairline.get, hairline.get)
}
