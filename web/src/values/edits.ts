// What is typed or pasted into the ledger, as edits of values. Pure.
import { cellsOf, type Typing } from '../shared/typing.ts'
import type { Edit, Value } from './values.ts'

export type Column = 'value' | 'note'

/** The rows of a ledger: those that there are, and what a new one would be. */
export interface Rows {
  count: number
  at: (row: number) => Value | undefined
  next: { period: string } | null
  breakdown: string | null
  typing: Typing
}

/** A value as it is, to be edited. */
export function asEdit(value: Value): Edit {
  return {
    period: value.period,
    breakdown: value.breakdown,
    value: value.value,
    numerator: value.numerator,
    denominator: value.denominator,
    note: value.note,
    set_aside: value.set_aside,
    reason: value.reason,
    seen: value.version,
  }
}

/** The row as it is, but for some changes; at the end of the rows a new one. */
export function changed({ at, next, breakdown }: Rows, row: number, changes: Partial<Edit>): Edit {
  const value = at(row)
  if (!value) return { period: next?.period ?? '', breakdown: breakdown ?? '', ...changes }
  return { ...asEdit(value), ...changes }
}

/** A block pasted from a row on, as edits; or why it cannot be, in words. */
export function pasted(
  rows: Rows,
  row: number,
  column: Column,
  block: string,
): { edits: Edit[] } | { title?: string; message: string } {
  const lines = cellsOf(block)
  if (column === 'note') {
    const notes = lines.slice(0, rows.count - row).map(([cell = '']) => cell.slice(0, 500))
    return { edits: notes.map((note, n) => changed(rows, row + n, { note })) }
  }
  const numbers = lines.map(([cell = '']) => rows.typing.read(cell))
  const wrong = numbers.indexOf(null)
  if (wrong >= 0)
    return {
      title: 'Nothing was pasted.',
      message: `Row ${wrong + 1} of the block, “${lines[wrong]?.[0] ?? ''}”: ${rows.typing.wrong(lines[wrong]?.[0] ?? '') ?? 'Not a number'}. For a table with dates use “Add from a table”.`,
    }
  if (numbers.some((_, n) => row + n < rows.count && !rows.at(row + n)))
    return { message: 'Some of these rows are still loading. Paste again.' }
  if (!rows.next && row + numbers.length > rows.count)
    return { message: 'Choose a breakdown first, so that new values belong to one.' }
  return {
    edits: numbers.map((value, n) => {
      const note = lines[n]?.[1]
      const extra = note === undefined ? {} : { note: note.slice(0, 500) }
      if (row + n < rows.count) return changed(rows, row + n, { ...value, ...extra })
      const period = `+${row + n - rows.count + 1}`
      return { period, breakdown: rows.breakdown ?? '', ...value, seen: null, ...extra }
    }),
  }
}
