// What the list of KPIs is made of, drawn whole where it is short and in view where it is long.
import type { ReactNode, RefObject } from 'react'
import type { KpiRow } from '../shared/kpis.ts'

/** The name of a group, or a KPI below it. `id` tells what stands twice apart. */
export type Item = ({ group: string; count: number } | { row: KpiRow }) & { id: string }

export interface RowsProps {
  /** What scrolls. */
  list: RefObject<HTMLDivElement | null>
  items: Item[]
  /** The KPI that is open: it is brought into view. */
  open: string | undefined
  draw: (item: Item) => ReactNode
}

/** Rows that stand above all groups, by the name of what they are. */
export interface Top {
  name: string
  rows: KpiRow[]
}

/** The KPIs that have what is typed in their names, below their groups; without it, the top first. */
export function itemsOf(
  rows: KpiRow[],
  top: readonly Top[],
  text: string,
  folded: ReadonlySet<string>,
): Item[] {
  const words = text.toLowerCase().split(/\s+/)
  const groups = new Map<string, Top>()
  if (!text) {
    for (const { name, rows } of top) {
      if (rows.length > 0) groups.set(`top ${name}`, { name, rows })
    }
  }
  for (const row of rows) {
    const named = `${row.name} ${row.group}`.toLowerCase()
    if (!words.every((word) => named.includes(word))) continue
    const group = groups.get(` ${row.group}`)
    if (group) group.rows.push(row)
    else groups.set(` ${row.group}`, { name: row.group, rows: [row] })
  }
  return [...groups].flatMap(([id, { name, rows }]): Item[] => [
    ...(name ? [{ id, group: name, count: rows.length }] : []),
    // What is typed is looked for everywhere.
    ...(folded.has(id) && !text ? [] : rows.map((row) => ({ id: `${id} ${row.slug}`, row }))),
  ])
}
