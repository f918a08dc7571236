// How numbers are written, as the server writes them: one table of cases holds both to it
// (tests/core/numbers.json).
import type { Schemas } from '../api/client.ts'

type Chart = Schemas['Chart']

export type Numbers = Chart['kpi']['numbers']

const MINUS = '\u2212'
const NBSP = '\u00a0'
const SUFFIXES: Record<number, string> = { 0: '', 3: 'k', 6: 'M', 9: 'bn', 12: 'tn' }
/** From here on a number has no decimals. */
const SEVEN_DIGITS = 1_000_000

const formats = new Map<string, Intl.NumberFormat>()

/** What writes numbers with so many decimals, made once: making one takes longer than a thousand numbers. */
function withDecimals(least: number, most: number): Intl.NumberFormat {
  const key = `${least} ${most}`
  const known = formats.get(key)
  if (known) return known
  const format = new Intl.NumberFormat('en-US', {
    minimumFractionDigits: least,
    maximumFractionDigits: most,
  })
  formats.set(key, format)
  return format
}

/** A number with so many decimals, a true minus sign, and never one before 0. */
export function formatNumber(value: number, decimals: number): string {
  const text = withDecimals(decimals, decimals).format(Math.abs(value))
  return value < 0 && /[1-9]/.test(text) ? MINUS + text : text
}

/** A number as it is counted, with no more decimals than it has and at most four. */
export function plainNumber(value: number): string {
  const text = withDecimals(0, 4).format(Math.abs(value))
  return value < 0 && text !== '0' ? MINUS + text : text
}

/** The currency sign that stands before a number, and the rest of a unit. */
function currency(unit: string): [string, string] {
  const sign = unit.match(/^\p{Sc}/u)?.[0] ?? ''
  return [sign, unit.slice(sign.length)]
}

/** A value over ten to a power, by its digits: a division would round some of them away. */
function scaled(value: number, power: number): number {
  const [digits = '0', exponent = '0'] = String(value).split('e')
  return Number(`${digits}e${Number(exponent) - power}`)
}

function written(value: number, decimals: number, { unit, power }: Numbers): string {
  const number = scaled(value, power)
  const text = formatNumber(number, Math.abs(number) >= SEVEN_DIGITS ? 0 : decimals)
  const [sign] = currency(unit)
  const suffix = power ? NBSP + SUFFIXES[power] : ''
  return text.startsWith(MINUS) ? `${MINUS}${sign}${text.slice(1)}${suffix}` : sign + text + suffix
}

/** What one of a unit is called: `car` of `cars`; units that are no plural stay. */
function singular(unit: string): string {
  const word = unit.toLowerCase()
  if (!/^\p{L}{3,}s$/u.test(word)) return unit
  if (word.endsWith('ies')) return `${unit.slice(0, -3)}y`
  if (/(sses|xes|ches|shes)$/.test(word)) return unit.slice(0, -2)
  return /(ss|us|is)$/.test(word) ? unit : unit.slice(0, -1)
}

function withUnit(text: string, unit: string): string {
  const [sign, all] = currency(unit)
  const rest = text === '1' ? singular(all) : all
  return !rest || sign || rest.startsWith('%') ? text + rest : text + NBSP + rest
}

/** A value: `1,234.5`, `1.93 M`, with a currency sign before it. */
export const valueText = (value: number, numbers: Numbers) =>
  written(value, numbers.decimals, numbers)

/** A value with its unit: `19.4 min`, `€1.93 M`, `94.5%`. */
export const amountText = (value: number, numbers: Numbers) =>
  withUnit(valueText(value, numbers), numbers.unit)

/** An average, a limit or a distance of levels. */
export const levelText = (value: number, numbers: Numbers) =>
  written(value, numbers.level_decimals, numbers)

/** The same with its unit. */
export const levelAmountText = (value: number, numbers: Numbers) =>
  withUnit(levelText(value, numbers), numbers.unit)

/** A distance of levels with its sign. */
export function signedLevel(value: number, numbers: Numbers): string {
  const text = levelText(value, numbers)
  return value > 0 && /[1-9]/.test(text) ? `+${text}` : text
}

/** A value in full, not in thousands or millions, with its unit where that is wanted. */
export function fullText(
  value: number,
  { decimals, unit }: Pick<Chart['kpi'], 'decimals' | 'unit'>,
  { bare = false }: { bare?: boolean } = {},
): string {
  const numbers = { unit, power: 0, decimals, level_decimals: decimals }
  return bare ? formatNumber(value, decimals) : amountText(value, numbers)
}

/** What stands over an axis: its unit, and what its numbers are counted in. */
export function countedIn({ unit, power }: Numbers): string {
  const [sign, rest] = currency(unit)
  return [power ? `${sign}${SUFFIXES[power]}` : sign, rest].filter(Boolean).join(' ')
}

/** What stands over the axis of the values, which is never nothing. */
export const valuesName = (numbers: Numbers) => countedIn(numbers) || 'value'

/** The tick of an axis, with as many decimals as tell the ticks apart. */
export function tickText(tick: number, step: number, { power }: Numbers): string {
  const apart = scaled(Math.abs(step) || 1, power)
  const decimals = Math.min(12, Math.max(0, Math.ceil(-Math.log10(apart) - 1e-9)))
  return formatNumber(scaled(tick, power), decimals)
}
