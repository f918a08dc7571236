import { IconChevronDown, IconChevronRight } from '@tabler/icons-react'
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from 'react'
import { NavLink, useLocation } from 'react-router'
import { Strip } from '../chart/small/Strip.tsx'
import type { KpiRow } from '../shared/kpis.ts'
import classes from './Rail.module.css'
import { type Item, keyOf, type RowsProps } from './rows.ts'

/** From so many KPIs on they can be narrowed down by typing. */
const MANY = 9
/** From so many rows on, only those in view are drawn. */
const LONG = 80

// What places the rows of a long list is loaded where there is one.
const RowsInView = lazy(() => import('./RowsInView.tsx'))

/** The KPIs by group, to jump to: narrowed down by typing, and only those in view are drawn. */
export function KpiList({ rows, workspace }: { rows: KpiRow[]; workspace: string }) {
  const [text, setText] = useState('')
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set())
  const list = useRef<HTMLDivElement>(null)
  const { pathname } = useLocation()
  const open = pathname.match(/\/charts\/([^/]+)/)?.[1]
  const items = useMemo(() => itemsOf(rows, text, folded), [rows, text, folded])
  function fold(group: string) {
    const next = new Set(folded)
    if (!next.delete(group)) next.add(group)
    setFolded(next)
  }

  const draw = (item: Item) =>
    'row' in item ? (
      <Row row={item.row} workspace={workspace} />
    ) : (
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
    )

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
        {items.length > LONG ? (
          <Suspense>
            <RowsInView {...{ list, items, open }} draw={draw} />
          </Suspense>
        ) : (
          <FewRows {...{ list, items, open }} draw={draw} />
        )}
      </div>
    </>
  )
}

function FewRows({ list, items, open, draw }: RowsProps) {
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is brought into view when it is opened
  useEffect(() => {
    list.current?.querySelector('[aria-current="page"]')?.scrollIntoView({ block: 'nearest' })
  }, [open, items.length > 0])
  return (
    <ul className={classes.few}>
      {items.map((item) => (
        <li key={keyOf(item)}>{draw(item)}</li>
      ))}
    </ul>
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
