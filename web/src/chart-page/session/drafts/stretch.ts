// The stretch of dates that a chart shows. Pure.
import { LENGTH } from '../../../chart/model/time.ts'
import type { Chart, Grain } from '../../../chart/model/types.ts'
import { counted } from '../../../shared/writing.ts'

/** The first and the last period shown, as dates, or as times of day where they are hours. */
export interface Stretch {
  first: string
  last: string
}

/** How many periods the stretches have that are offered, by grain. */
const LENGTHS: Record<Grain, number[]> = {
  hour: [48, 168, 720, 2160],
  day: [30, 90, 180],
  week: [13, 26],
  month: [24, 36],
  quarter: [8, 16],
  year: [10],
}
/** Fewer periods than this are not zoomed into. */
const FEWEST = 4
const DAY = 86_400_000

const timeOf = (text: string) =>
  Date.parse(`${text.slice(0, 16)}${text.length > 10 ? 'Z' : 'T00:00Z'}`)
const dayOf = (time: number) => new Date(time).toISOString().slice(0, 10)

function textOf(time: number, grain: Grain): string {
  return grain === 'hour' ? new Date(time).toISOString().slice(0, 16) : dayOf(time)
}

/** From a day to a day, both included. */
export function fromDays(first: string, last: string, grain: Grain): Stretch {
  return grain === 'hour' ? { first: `${first}T00:00`, last: `${last}T23:59` } : { first, last }
}

/** The last so many periods, up to the newest day. */
export function lastPeriods(periods: number, grain: Grain, newest: string): Stretch {
  const last = timeOf(newest)
  const first = last - (periods - 1) * LENGTH[grain]
  return fromDays(dayOf(grain === 'hour' ? first + DAY : first), newest, grain)
}

/** Stretches to choose from, by name; those that would show everything are left out. */
export function offered(
  grain: Grain,
  newest: string,
  { count, shift }: { count: number; shift: string | null },
): { name: string; stretch: Stretch }[] {
  if (!newest) return []
  const year = newest.slice(0, 4)
  const back = new Date(timeOf(newest))
  back.setUTCFullYear(back.getUTCFullYear() - 1)
  const since = (day: string) => fromDays(day, newest, grain)
  return [
    ...LENGTHS[grain]
      .filter((periods) => periods < count)
      .map((periods) => ({
        name: `Last ${counted(periods, grain)}`,
        stretch: lastPeriods(periods, grain, newest),
      })),
    ...(grain === 'year' || (count * LENGTH[grain]) / DAY <= 366
      ? []
      : [{ name: 'Last 12 months', stretch: since(dayOf(Number(back) + DAY)) }]),
    ...(grain === 'year' ? [] : [{ name: 'This year', stretch: since(`${year}-01-01`) }]),
    ...(shift ? [{ name: 'Since the last shift', stretch: since(shift.slice(0, 10)) }] : []),
  ]
}

/** The stretch so many lengths of itself earlier or later, but not past the newest day. */
export function movedStretch(stretch: Stretch, by: number, grain: Grain, newest: string): Stretch {
  const [first, last] = [timeOf(stretch.first), timeOf(stretch.last)]
  const end = timeOf(newest) + (grain === 'hour' ? DAY - 60_000 : 0)
  const step = Math.min(by * (last - first + LENGTH[grain]), end - last)
  return { first: textOf(first + step, grain), last: textOf(last + step, grain) }
}

/**
 * The stretch that is so many times as long, with what is at `around` (a share of it) staying in
 * its place; null where that would be all of `whole`.
 */
export function zoomedStretch(
  stretch: Stretch,
  factor: number,
  { around, whole, grain }: { around: number; whole: Stretch; grain: Grain },
): Stretch | null {
  const [first, last] = [timeOf(stretch.first), timeOf(stretch.last)]
  const [from, to] = [timeOf(whole.first), timeOf(whole.last)]
  const length = Math.max((last - first) * factor, FEWEST * LENGTH[grain])
  if (length >= to - from) return null
  const fixed = first + (last - first) * around
  const start = Math.max(from, Math.min(fixed - length * around, to - length))
  return { first: textOf(start, grain), last: textOf(start + length, grain) }
}

/** The part of a whole between two shares of it; null where that is all of it. */
export function partOf(whole: Stretch, start: number, stop: number, grain: Grain): Stretch | null {
  const [from, to] = [timeOf(whole.first), timeOf(whole.last)]
  if (start <= 0.001 && stop >= 0.999) return null
  const at = (share: number) => textOf(from + (to - from) * Math.min(1, Math.max(0, share)), grain)
  return { first: at(start), last: at(stop) }
}

/** Where a stretch begins and ends within a whole, as shares of it. */
export function sharesOf(whole: Stretch, stretch: Stretch): [number, number] {
  const [from, to] = [timeOf(whole.first), timeOf(whole.last)]
  const share = (text: string) => Math.min(1, Math.max(0, (timeOf(text) - from) / (to - from || 1)))
  return [share(stretch.first), share(stretch.last)]
}

/** All the dates that a chart has. */
export function wholeOf({ strip, points, kpi }: Chart): Stretch | null {
  const periods = strip?.period ?? points.period
  const cut = kpi.grain === 'hour' ? 16 : 10
  const [first, last] = [periods[0]?.slice(0, cut), periods.at(-1)?.slice(0, cut)]
  return first && last ? { first, last } : null
}
