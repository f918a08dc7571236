// How periods and counts are written.
import type { Schemas } from '../api/client.ts'
import { plainNumber } from './numbers.ts'

type Chart = Schemas['Chart']
type Grain = Schemas['Grain']

export const MONTHS = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ')

interface Parts {
  year: number
  month: number
  day: number
  clock: string
}

function partsOf(period: string): Parts {
  const [year = 0, month = 1, day = 1] = period.slice(0, 10).split('-').map(Number)
  return { year, month, day, clock: period.slice(11, 16) }
}

/** `18 May`, `18 May 14:00`, `May 2026`, `Q2 2026`. */
export function shortPeriod(period: string, grain: Grain): string {
  const { year, month, day, clock } = partsOf(period)
  const name = MONTHS[month - 1]
  // A year or a quarter of its own, which starts in another month, is named by its ends.
  if (grain === 'year')
    return month === 1 ? String(year) : `${year}/${String((year + 1) % 100).padStart(2, '0')}`
  if (grain === 'quarter')
    return month % 3 === 1
      ? `Q${Math.ceil(month / 3)} ${year}`
      : `${name}\u2013${MONTHS[(month + 1) % 12]} ${year}`
  if (grain === 'month') return `${name} ${year}`
  return grain === 'hour' ? `${day} ${name} ${clock}` : `${day} ${name}`
}

/** `Week of 18 May 2026`. */
export function longPeriod(period: string, grain: Grain): string {
  const { year, clock } = partsOf(period)
  const short = shortPeriod(period, grain)
  if (grain === 'hour') return `${short.slice(0, -6)} ${year}, ${clock}`
  if (grain === 'day') return `${short} ${year}`
  return grain === 'week' ? `Week of ${short} ${year}` : short
}

/** The same inside a sentence: `the week of 18 May 2026`. */
export function periodInText(period: string, grain: Grain): string {
  const long = longPeriod(period, grain)
  return grain === 'week' ? `the w${long.slice(1)}` : long
}

/** Which way a KPI is wanted to go, in lower case; empty where none is. */
export const WANTED: Record<Chart['kpi']['direction'], string> = {
  higher: 'higher is better',
  lower: 'lower is better',
  neither: '',
}
/** What stands beside the name of a KPI: `min · weekly mean of 212 rows · lower is better`. */
export function subtitle(chart: Pick<Chart, 'kpi' | 'basis'>): string {
  const { unit, direction } = chart.kpi
  return [unit, madeOf(chart), WANTED[direction]].filter(Boolean).join(' · ')
}

/** What the values of a KPI are made of: `weekly mean of 212 rows`, or the KPIs that it follows. */
export function madeOf({ kpi, basis }: Pick<Chart, 'kpi' | 'basis'>): string {
  const sources = kpi.derivation?.sources.map(({ name }) => name) ?? []
  return sources.length > 0 ? `made of ${sources.join(' and ')}` : basis
}

export function counted(count: number, noun: string): string {
  return `${plainNumber(count)} ${noun}${count === 1 ? '' : 's'}`
}

/** Today where the browser is, as `2026-05-18`. */
export function today(): string {
  return isoDay(new Date())
}

function isoDay(at: Date): string {
  return at.toLocaleDateString('sv')
}

/** `18 May 2026`, of a moment. */
export function dayOf(at: string): string {
  const local = isoDay(new Date(at))
  return days(local, local)
}

/** When something was done: `18 May 2026, 14:05`. */
export function moment(at: string): string {
  return new Date(at).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
  })
}

/** `7 Sep 2026`, or `23 May 2026 to 13 Sep 2026`. */
export function days(first: string, last: string): string {
  const name = (day: string) => longPeriod(day, 'day')
  return first === last ? name(first) : `${name(first)} to ${name(last)}`
}

/** `12.4 kB`. */
export function kilobytes(bytes: number): string {
  return `${(bytes / 1024).toLocaleString('en-US', { maximumFractionDigits: 1 })} kB`
}
