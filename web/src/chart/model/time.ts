// The time axis: where a period lies, and which times get a tick.
import { utcTicks } from 'd3-time'
import { MONTHS } from '../../shared/writing.ts'
import type { Grain } from './types.ts'

const HOUR = 3_600_000
const DAY = 24 * HOUR

/** How long a period of each grain is, near enough to space things by. */
export const LENGTH: Record<Grain, number> = {
  hour: HOUR,
  day: DAY,
  week: 7 * DAY,
  month: 30.4 * DAY,
  quarter: 91.3 * DAY,
  year: 365.25 * DAY,
}

/**
 * Places periods on one axis. Days and longer lie at their date; hours at their
 * true instant, read on the clock of the first one, so that a clock change
 * neither folds two hours into one nor tears a gap.
 */
export function timesOf(periods: string[], grain: Grain): number[] {
  if (grain !== 'hour') return periods.map((period) => Date.parse(`${period}T00:00Z`))
  const first = periods[0]
  if (!first) return []
  const shift = Date.parse(`${first.slice(0, 16)}Z`) - Date.parse(first)
  return periods.map((period) => Date.parse(period) + shift)
}

export interface Tick {
  time: number
  label: string
  /** Set on the first tick and where the year changes. */
  year: string
}

/** A tick in one line: `Apr`, `Jan 26` where the year begins, `2026` where years are apart. */
export function tickLine({ label, year }: Tick): string {
  return label ? [label, year.slice(2)].filter(Boolean).join(' ') : year
}

/** How ticks are written, by the largest step between them that the way suits. */
const FORMATS: [number, (time: Date) => string][] = [
  [DAY, (time) => time.toISOString().slice(11, 16)],
  [27 * DAY, (time) => `${time.getUTCDate()} ${MONTHS[time.getUTCMonth()]}`],
  [364 * DAY, (time) => MONTHS[time.getUTCMonth()] ?? ''],
]

/** Of how many weeks one has a tick, where weeks have ticks at all. */
const WEEKS = [1, 2, 3]

/**
 * Chooses ticks for an axis of `width` pixels: round times, labels that do not touch; where
 * there is room for all of them, the periods themselves.
 */
export function ticksOf(
  domain: [number, number],
  width: number,
  { times: periods, grain }: { times: number[]; grain: Grain } = { times: [], grain: 'day' },
): Tick[] {
  if (!(domain[1] > domain[0])) return []
  const [start, stop] = domain.map((time) => new Date(time))
  if (!start || !stop) return []
  const most = Math.max(2, Math.floor(width / 92))
  const few = periods.length > 0 && periods.length <= most / 1.5
  // Weeks begin on their own day: round dates would lie beside the points.
  const every = WEEKS.find((weeks) => periods.length / weeks <= most)
  const weekly = grain === 'week' && periods.length > 0 && every !== undefined
  const times = few
    ? periods
    : weekly
      ? periods.filter((_, n) => n % every === 0)
      : utcTicks(start, stop, most).map(Number)
  const step =
    few || weekly
      ? LENGTH[grain] * 0.95
      : Math.min(...times.slice(1).map((time, n) => time - (times[n] ?? 0)), 365 * DAY)
  const format = FORMATS.find(([length]) => step < length)?.[1]
  let last = ''
  return times.map((time) => {
    const year = String(new Date(time).getUTCFullYear())
    const tick = { time, label: format?.(new Date(time)) ?? '', year: year === last ? '' : year }
    last = year
    return tick
  })
}
