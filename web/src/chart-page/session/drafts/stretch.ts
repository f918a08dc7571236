// A stretch of dates that a chart shows. Pure.
import { LENGTH } from '../../../chart/model/time.ts'
import type { Grain } from '../../../chart/model/types.ts'

/** How many periods a stretch may have, by grain. */
export const STRETCHES: Record<Grain, number[]> = {
  hour: [48, 168, 720, 2160],
  day: [30, 90, 180, 365],
  week: [13, 26, 52, 104],
  month: [12, 24, 36],
  quarter: [8, 16],
  year: [10],
}

/** A stretch of dates shown: its last day (absent: the newest) and how many periods. */
export interface Stretch {
  grain: Grain
  periods: number
  /** Last day shown, as a date. */
  until: string
}

const DAY = 86_400_000

/** The first and last period that a stretch asks the server for. */
export function boundsOf({ grain, periods, until }: Stretch): { first: string; last: string } {
  const last = Date.parse(`${until}T00:00Z`)
  const first = last - (periods - 1) * LENGTH[grain]
  const day = (time: number) => new Date(time).toISOString().slice(0, 10)
  if (grain !== 'hour') return { first: day(first), last: day(last) }
  return { first: `${day(first + DAY)}T00:00`, last: `${day(last)}T23:59` }
}

/** The stretch so many lengths of itself earlier or later, but not past the newest day. */
export function movedStretch(stretch: Stretch, by: number, newest: string): Stretch {
  const time = Date.parse(`${stretch.until}T00:00Z`) + by * stretch.periods * LENGTH[stretch.grain]
  const until = new Date(Math.min(time, Date.parse(`${newest}T00:00Z`))).toISOString().slice(0, 10)
  return { ...stretch, until }
}
