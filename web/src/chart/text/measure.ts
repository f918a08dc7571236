// How wide a text is, from the measures of the shipped font (web/measure_font.py): the same
// wherever it is drawn, and known before it is.
import widths from './widths.json'

export type Weight = 400 | 600 | 700

/** The size of the texts of a chart. */
export const SIZE = 11.5

const TABLES = widths as Record<string, Record<string, number>>
/** Characters that the font has not are drawn in another: square ones, and narrower ones. */
const SQUARE = 1000
const OTHER = 640
const IS_SQUARE =
  /[\u1100-\u115f\u2e80-\ua4cf\uac00-\ud7a3\uf900-\ufaff\ufe30-\ufe6f\uff00-\uff60]|\p{Extended_Pictographic}/u

/** The width of a text in pixels. */
export function textWidth(text: string, weight: Weight = 400, size = SIZE): number {
  const table = TABLES[weight] ?? {}
  let sum = 0
  for (const character of text.normalize('NFC'))
    sum +=
      table[character === '\u00a0' ? ' ' : character] ??
      (/\p{M}/u.test(character) ? 0 : IS_SQUARE.test(character) ? SQUARE : OTHER)
  return (sum * size) / 1000
}

/** As much of a text as there is room for, with an ellipsis where that is not all; '' for none. */
export function fitted(text: string, room: number, weight: Weight = 400, size = SIZE): string {
  if (textWidth(text, weight, size) <= room) return text
  const letters = [...text]
  let low = 0
  let high = letters.length
  while (low < high) {
    const middle = (low + high + 1) >> 1
    const part = `${letters.slice(0, middle).join('').trimEnd()}…`
    if (textWidth(part, weight, size) <= room) low = middle
    else high = middle - 1
  }
  return low < 2 ? '' : `${letters.slice(0, low).join('').trimEnd()}…`
}

/** The first of some ways to say the same that there is room for; '' for none. */
export function shortest(ways: string[], room: number, weight: Weight = 400): string {
  return ways.find((way) => textWidth(way, weight) <= room) ?? ''
}
