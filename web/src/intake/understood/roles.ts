// The roles of columns in words, and how a kind of column is called.
import type { Reading, Role } from './table.ts'

export const ROLES: { role: Role; name: string; hint: string }[] = [
  { role: 'period', name: 'Period', hint: 'the date, week or month of a row' },
  { role: 'value', name: 'Value', hint: 'becomes a KPI' },
  { role: 'kpi', name: 'KPI name', hint: 'tells which KPI a row is of' },
  { role: 'breakdown', name: 'Breakdown', hint: 'a quay, a vessel, a person' },
  { role: 'numerator', name: 'Numerator', hint: 'of a ratio of sums' },
  { role: 'denominator', name: 'Denominator', hint: 'of a ratio of sums' },
  { role: 'target', name: 'Target', hint: 'as it was at the time' },
  { role: 'target_high', name: 'Target, high side', hint: 'of a range from the target to it' },
  { role: 'note', name: 'Note', hint: 'kept with the value' },
  { role: 'latitude', name: 'Latitude', hint: 'in degrees, for the map' },
  { role: 'longitude', name: 'Longitude', hint: 'in degrees, for the map' },
  { role: 'ignore', name: 'Not used', hint: 'left out' },
]

const KINDS = { date: 'dates', number: 'numbers', text: 'text' }

/** `numbers, 98 % of the cells`. */
export function kindInWords(column: Reading['columns'][number]): string {
  if (column.share === 0) return 'empty'
  const share = Math.floor(column.share * 100)
  return share === 100 ? KINDS[column.kind] : `${KINDS[column.kind]}, ${share} %`
}
