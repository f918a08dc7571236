// A person at a chart: what it shows, what they are doing, and what they can do. By context, so
// that no part of the page is handed what it does not use.
import { createContext, type Dispatch, type RefObject, useContext } from 'react'
import type { May } from '../../shared/may.ts'
import type { Chart, KpiPath, SavedChart } from '../data/chart.ts'
import type { Acts } from './acts.ts'
import type { Held, Session, SessionEvent } from './mode.ts'
import type { useLook } from './useLook.ts'

export interface ChartSession {
  path: KpiPath
  look: ReturnType<typeof useLook>
  state: Session
  dispatch: Dispatch<SessionEvent>
  /** The chart as it is kept. */
  saved: SavedChart
  /** What acts are done on: the chart as it is kept, or as it is tried. */
  base: Chart
  /** What is drawn: with what is in the hand, once its preview has come. */
  drawn: Chart
  held: Held | null
  /** Whether what is drawn is the preview of what is in the hand. */
  previewing: boolean
  previewError: Error | null
  /** Whether it shows the whole, at the grain that is stored, where acts are done. */
  whole: boolean
  acts: Acts
  may: May
  svg: RefObject<SVGSVGElement | null>
  /** Where a card opens that is about a point, in pixels of the chart. */
  belowPoint: (position: number) => { x: number; y: number }
}

const Context = createContext<ChartSession | null>(null)

export const ChartSessionProvider = Context.Provider

export function useChartSession(): ChartSession {
  const session = useContext(Context)
  if (!session) throw new Error('a part of the chart page stands outside of it')
  return session
}
