import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect } from 'react'
import classes from './Rail.module.css'
import type { RowsProps } from './rows.ts'

/** Pixels of a KPI and of the name of a group. */
const [ROW, GROUP] = [47, 28]

/** The rows of a long list that are in view. */
export default function RowsInView({ list, items, open, draw }: RowsProps) {
  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => list.current,
    estimateSize: (n) => ('row' in (items[n] ?? { group: '' }) ? ROW : GROUP),
    overscan: 6,
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is brought into view when it is opened
  useEffect(() => {
    const at = items.findIndex((item) => 'row' in item && item.row.slug === open)
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' })
  }, [open, items.length > 0])
  return (
    <ul className={classes.rows} style={{ height: virtual.getTotalSize() }}>
      {virtual.getVirtualItems().map(({ index, start }) => {
        const item = items[index]
        return (
          item && (
            <li key={item.id} style={{ transform: `translateY(${start}px)` }}>
              {draw(item)}
            </li>
          )
        )
      })}
    </ul>
  )
}
