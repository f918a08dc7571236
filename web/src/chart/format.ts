// How numbers and periods are written. Writing only: every number comes from the server.
import type { Chart, Grain } from './types.ts'

const MINUS = '\u2212'
export const MONTHS = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ')

export function formatNumber(value: number, decimals: number): string {
  const text = Math.abs(value).toLocaleString('en-US', {
    minimumFractionDigits: decimals,
    maximumFractionDigits: decimals,
  })
  return value < 0 && /[1-9]/.test(text) ? MINUS + text : text
}

export function withUnit(text: string, unit: string): string {
  return unit ? `${text}\u00a0${unit}` : text
}

export function signed(value: number, decimals: number): string {
  const text = formatNumber(value, decimals)
  return value > 0 && /[1-9]/.test(text) ? `+${text}` : text
}

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
  if (grain === 'year') return String(year)
  if (grain === 'quarter') return `Q${Math.ceil(month / 3)} ${year}`
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

const WANTED: Record<Chart['kpi']['direction'], string> = {
  higher: 'higher is better',
  lower: 'lower is better',
  neither: '',
}
const ADVERBS: Record<Grain, string> = {
  hour: 'hourly',
  day: 'daily',
  week: 'weekly',
  month: 'monthly',
  quarter: 'quarterly',
  year: 'yearly',
}

/** What stands beside the name of a KPI: `min · weekly · lower is better`. */
export function subtitle(kpi: Chart['kpi']): string {
  return [kpi.unit, ADVERBS[kpi.grain], WANTED[kpi.direction]].filter(Boolean).join(' · ')
}

export function counted(count: number, noun: string): string {
  return `${count.toLocaleString('en-US')} ${noun}${count === 1 ? '' : 's'}`
}
