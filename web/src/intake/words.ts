// What the intake says: of a table, of saving it, and of what was saved. Pure.
import { counted } from '../shared/writing.ts'
import { touched } from './Comparison.tsx'
import type { Mode, Reading, Uploaded } from './understood/table.ts'

/** What the button says that saves: how much of it. */
export function saveWords(read: Reading, wanted: number, into: string | null, mode: Mode): string {
  if (into) {
    if (!read.difference) return 'Save'
    const count = touched(read.difference, mode)
    const { counts } = read.difference
    if (count === 0) return 'Nothing to save'
    if (mode === 'replace')
      return `Replace with ${counted(counts.new + counts.changed + counts.same, 'value')}`
    return count === counts.new
      ? `Add ${counted(count, 'new value')}`
      : `Save ${counted(count, 'value')}`
  }
  const current = read.kpis.find((kpi) => kpi.choice.include)
  return wanted === 1 && current
    ? `Save ${counted(current.value_count, 'value')} as a KPI`
    : `Save ${counted(wanted, 'KPI')}`
}

/** What was found of a table, in a line. */
export function facts(read: Reading, uploaded: Uploaded): string {
  return [
    uploaded.name || 'a paste',
    read.sheets.length > 1 ? `${read.format}, ${read.sheet}` : read.format,
    counted(read.row_count, 'row'),
    ...(read.encoding && !read.encoding.startsWith('utf') ? [read.encoding] : []),
    ...(read.missing ? [`${read.missing.toLocaleString('en-US')} without a value`] : []),
    ...(read.sorted_here ? ['sorted by date'] : []),
  ].join(' · ')
}

/** How much was new, changed and the same. */
export function inWords(
  counts: { new: number; changed: number; same: number } | undefined,
): string {
  if (!counts) return 'Saved.'
  return `${counted(counts.new, 'new value')}, ${counts.changed} changed, ${counts.same} the same.`
}
