import { IconChevronDown, IconChevronRight } from '@tabler/icons-react'
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from 'react'
import { NavLink, useLocation } from 'react-router'
import { Strip } from '../chart/small/Strip.tsx'
import { useFavorites } from '../shared/favorites.ts'
import type { KpiRow } from '../shared/kpis.ts'
import classes from './Rail.module.css'
import { keepRecent, recentsOf } from './recents.ts'
import { type Item, itemsOf, type RowsProps, type Top } from './rows.ts'

/** From so many KPIs on they can be narrowed down by typing. */
const MANY = 9
/** From so many KPIs on, those that were opened last stand above the others, so many of them. */
const [LOST_IN, RECENT] = [20, 3]
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
  const top = useTop(rows, workspace, open)
  const items = useMemo(() => itemsOf(rows, top, text, folded), [rows, top, text, folded])
  function fold(id: string) {
    const next = new Set(folded)
    if (!next.delete(id)) next.add(id)
    setFolded(next)
  }

  const draw = (item: Item) =>
    'row' in item ? (
      <Row row={item.row} workspace={workspace} />
    ) : (
      <button
        type="button"
        className={classes.group}
        aria-expanded={!folded.has(item.id)}
        onClick={() => fold(item.id)}
      >
        {item.group}
        {folded.has(item.id) ? (
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

/** What stands above the groups: what is kept at hand, and in a long list what was opened last. */
function useTop(rows: KpiRow[], workspace: string, open: string | undefined): Top[] {
  const favorites = useFavorites(workspace)
  const recents = useMemo(
    () => recentsOf(workspace).filter((slug) => slug !== open),
    [workspace, open],
  )
  useEffect(() => {
    if (open !== undefined) keepRecent(workspace, open)
  }, [workspace, open])
  return useMemo(() => {
    const bySlug = new Map(rows.map((row) => [row.slug, row]))
    const present = (slugs: readonly string[]) => slugs.flatMap((slug) => bySlug.get(slug) ?? [])
    const others = recents.filter((slug) => !favorites.includes(slug))
    return [
      { name: 'At hand', rows: present(favorites) },
      { name: 'Opened last', rows: rows.length < LOST_IN ? [] : present(others).slice(0, RECENT) },
    ]
  }, [rows, favorites, recents])
}

function FewRows({ list, items, open, draw }: RowsProps) {
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is brought into view when it is opened
  useEffect(() => {
    list.current?.querySelector('[aria-current="page"]')?.scrollIntoView({ block: 'nearest' })
  }, [open, items.length > 0])
  return (
    <ul className={classes.few}>
      {items.map((item) => (
        <li key={item.id}>{draw(item)}</li>
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
