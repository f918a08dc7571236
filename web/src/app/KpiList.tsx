import { IconChevronDown, IconChevronRight } from '@tabler/icons-react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useMemo, useRef, useState } from 'react'
import { NavLink, useLocation } from 'react-router'
import type { KpiRow } from '../shared/kpis.ts'
import { Strip } from '../shared/Strip.tsx'
import classes from './Rail.module.css'

type Item = { group: string; count: number } | { row: KpiRow }

/** From so many KPIs on they can be narrowed down by typing. */
const MANY = 9
const [ROW, GROUP] = [47, 28]

/** The KPIs by group, to jump to: narrowed down by typing, and only those in view are drawn. */
export function KpiList({ rows, workspace }: { rows: KpiRow[]; workspace: string }) {
  const [text, setText] = useState('')
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set())
  const list = useRef<HTMLDivElement>(null)
  const { pathname } = useLocation()
  const open = pathname.match(/\/charts\/([^/]+)/)?.[1]
  const items = useMemo(() => itemsOf(rows, text, folded), [rows, text, folded])
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
  }, [open, rows.length > 0])

  function fold(group: string) {
    const next = new Set(folded)
    if (!next.delete(group)) next.add(group)
    setFolded(next)
  }

  return (
    <>
      {rows.length >= MANY && (
        <input
          type="search"
          className={classes.filter}
          placeholder="Find a KPI"
          aria-label="Find a KPI"
          value={text}
          onChange={(event) => setText(event.currentTarget.value)}
          onKeyDown={(event) => {
            if (event.key === 'Escape') setText('')
            if (event.key !== 'ArrowDown') return
            event.preventDefault()
            list.current?.querySelector<HTMLElement>('a')?.focus()
          }}
        />
      )}
      <div ref={list} className={classes.list}>
        {rows.length > 0 && items.length === 0 && (
          <p className={classes.group}>Nothing has “{text}” in its name</p>
        )}
        {/* biome-ignore lint/a11y/useSemanticElements: the rows of a virtual list are placed, which list items in a ul are not */}
        <div role="list" className={classes.rows} style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start, key }) => {
            const item = items[index]
            const at = { transform: `translateY(${start}px)` }
            if (!item) return null
            return 'row' in item ? (
              // biome-ignore lint/a11y/useSemanticElements: as above
              <div key={key} role="listitem" style={at}>
                <Row row={item.row} workspace={workspace} />
              </div>
            ) : (
              // biome-ignore lint/a11y/useSemanticElements: as above
              <div key={key} role="listitem" style={at}>
                <button
                  type="button"
                  className={classes.group}
                  aria-expanded={!folded.has(item.group)}
                  onClick={() => fold(item.group)}
                >
                  {item.group}
                  {folded.has(item.group) ? (
                    <>
                      {` · ${item.count}`} <IconChevronRight size={13} aria-hidden />
                    </>
                  ) : (
                    <IconChevronDown size={13} aria-hidden />
                  )}
                </button>
              </div>
            )
          })}
        </div>
      </div>
    </>
  )
}

function Row({ row, workspace }: { row: KpiRow; workspace: string }) {
  return (
    <NavLink
      to={`/${workspace}/charts/${row.slug}`}
      className={({ isActive }) => `${classes.row} ${isActive ? classes.active : ''}`}
      title={row.name}
    >
      <span className={classes.name}>{row.name}</span>
      <span className={classes.latest}>
        {row.latest || 'no values'}
        {row.signal && <span className="unseen">, recent signal</span>}
      </span>
      <Strip values={row.strip} signal={row.signal} />
    </NavLink>
  )
}

/** The KPIs that have what is typed in their names, below their groups. */
function itemsOf(rows: KpiRow[], text: string, folded: ReadonlySet<string>): Item[] {
  const words = text.toLowerCase().split(/\s+/)
  const groups = new Map<string, KpiRow[]>()
  for (const row of rows) {
    const named = `${row.name} ${row.group}`.toLowerCase()
    if (!words.every((word) => named.includes(word))) continue
    const group = groups.get(row.group)
    if (group) group.push(row)
    else groups.set(row.group, [row])
  }
  return [...groups].flatMap(([group, found]): Item[] => [
    ...(group ? [{ group, count: found.length }] : []),
    // What is typed is looked for everywhere.
    ...(folded.has(group) && !text ? [] : found.map((row) => ({ row }))),
  ])
}
