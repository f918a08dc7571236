// How numbers are typed by hand: read, or said why they are none. Pure.
import type { Schemas } from '../api/client.ts'

/** A value as it is typed: a number, or both numbers of a ratio. */
export type Typed = Partial<Pick<Schemas['EditRequest'], 'value' | 'numerator' | 'denominator'>>

/** The cells of a pasted block, by line. */
export const cellsOf = (block: string): string[][] =>
  block
    .replace(/\r?\n$/, '')
    .split(/\r?\n/)
    .map((line) => line.split('\t'))

const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i

/**
 * The numbers that a typed text can stand for: one, none, or two where a comma may part the
 * thousands or the decimals. Where there are both marks, the last one parts the decimals.
 */
export function readingsOf(text: string): number[] {
  const plain = text.replace(/[\s\u00a0\u202f']/g, '').replace('\u2212', '-')
  const thousands = (mark: string, decimals: string) =>
    new RegExp(`^[+-]?\\d{1,3}(\\${mark}\\d{3})+${decimals}$`)
  const readings = [
    // A point for the decimals, or none: 19.4, 1,234, 1,234.5
    !plain.includes(',') || thousands(',', '(\\.\\d*)?').test(plain)
      ? plain.replaceAll(',', '')
      : null,
    // A comma for the decimals: 19,4, 1.234,5; and thousands by points alone: 1.234.567
    /^[^,]*,[^,]*$/.test(plain) && (!plain.includes('.') || thousands('.', ',\\d*').test(plain))
      ? plain.replaceAll('.', '').replace(',', '.')
      : null,
    /\..*\./.test(plain) && thousands('.', '').test(plain) ? plain.replaceAll('.', '') : null,
  ]
  return readings
    .filter((reading) => reading !== null && NUMBER.test(reading))
    .map(Number)
    .filter((number, n, all) => Number.isFinite(number) && all.indexOf(number) === n)
}

/** Reads what a person types for a number; null for what is none, or could be two. */
export function typedNumber(text: string): number | null {
  const [number, other] = readingsOf(text)
  return number === undefined || other !== undefined ? null : number
}

/** Why a typed text is no number, in words; null where it is one, or nothing yet. */
export function wrongNumber(text: string): string | null {
  if (text.trim() === '' || typedNumber(text) !== null) return null
  const [number, other] = readingsOf(text)
  return other === undefined ? 'Not a number' : `Write ${number} or ${other}`
}

/** How a value of a KPI is typed: a number, or both numbers of a ratio. */
export interface Typing {
  /** What is written for a text; null where it is none. */
  read: (text: string) => Typed | null
  wrong: (text: string) => string | null
  hint: string
}

const NUMBER_TYPED: Typing = {
  read: (text) => {
    const value = typedNumber(text)
    return value === null ? null : { value }
  },
  wrong: wrongNumber,
  hint: 'next value',
}

const FRACTION_TYPED: Typing = {
  read: (text) => {
    const [above, below, more] = text.split(/\s*(?:of|\/)\s*/i)
    const [numerator, denominator] = [typedNumber(above ?? ''), typedNumber(below ?? '')]
    if (numerator === null || denominator === null || more !== undefined) return null
    return { value: null, numerator, denominator }
  },
  wrong: (text) => {
    if (text.trim() === '') return null
    const both = FRACTION_TYPED.read(text)
    if (both === null) return 'Write both numbers: 92 of 98'
    return both.denominator === 0 ? 'There is no ratio by 0' : null
  },
  hint: '92 of 98',
}

/** How the values of a KPI are typed. */
export function typingOf(kpi: Pick<Schemas['Kpi'], 'aggregation'>): Typing {
  return kpi.aggregation === 'ratio' ? FRACTION_TYPED : NUMBER_TYPED
}
