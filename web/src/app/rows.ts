// What the list of KPIs is made of, drawn whole where it is short and in view where it is long.
import type { ReactNode, RefObject } from 'react'
import type { KpiRow } from '../shared/kpis.ts'

export type Item = { group: string; count: number } | { row: KpiRow }

export interface RowsProps {
  /** What scrolls. */
  list: RefObject<HTMLDivElement | null>
  items: Item[]
  /** The KPI that is open: it is brought into view. */
  open: string | undefined
  draw: (item: Item) => ReactNode
}

export const keyOf = (item: Item) => ('row' in item ? item.row.slug : ` ${item.group}`)
