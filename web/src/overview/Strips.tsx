import { Skeleton } from '@mantine/core'
import { useMediaQuery } from '@mantine/hooks'
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react'
import { useWindowVirtualizer } from '@tanstack/react-virtual'
import {
  type CSSProperties,
  type KeyboardEvent,
  type PointerEvent,
  type RefObject,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react'
import { useHairline } from '../chart/hairline.tsx'
import { linear } from '../chart/model/scale.ts'
import { dayTime, type Span } from '../chart/small/place.ts'
import { TimeAxis } from '../chart/small/TimeAxis.tsx'
import { AddToPage } from '../pages/AddToPage.tsx'
import type { DatesAsked } from '../shared/looking/useDates.ts'
import { useSize } from '../shared/looking/useSize.ts'
import classes from './Overview.module.css'
import {
  type Overview,
  ROWS,
  type Row,
  useHandOrder,
  useOverview,
  type Wanted,
} from './overview.ts'
import { DAY, StripFlag, StripLine, type StripPlace } from './StripHairline.tsx'
import { StripRow } from './StripRow.tsx'

interface Props {
  workspace: string
  wanted: Wanted
  /** The first screen, with what holds for all. */
  first: Overview
  domain: Span
  dense: boolean
  chosen: readonly string[]
  peeked: string | null
  onChoose: (slug: string) => void
  onPeek: (slug: string | null) => void
  onOpen: (slug: string) => void
  onFold: (folded: string[]) => void
  onDates: (dates: DatesAsked) => void
  onByHand: () => void
}

interface GroupItem {
  group: string
  count: number
  folded: boolean
}

/** An item of the list: the heading of a group, or the row at a position. */
type Item = GroupItem | { row: number }

const [ROOMY, DENSE, NARROW_ROW, HEADING, GAP] = [60, 34, 128, 30, 6]
const STRIP_ON_A_PHONE = 46
/** As in the style sheet: a row is then three lines. */
const NARROW = '(max-width: 700px)'

/**
 * The rows, only those in view, with one time axis and one hairline for all of them. Long as one list: its
 * keys, its order by hand and its hairline share which row is meant.
 */
export function Strips(props: Props) {
  const { workspace, wanted, first, domain, dense, chosen, peeked } = props
  const narrow = useMediaQuery(NARROW) ?? false
  // Drawn anew when its width changes, as beside a chart that is looked at.
  const { ref: watched } = useSize()
  const height = narrow ? NARROW_ROW : dense ? DENSE : ROOMY
  const items = useMemo(() => itemsOf(first, wanted), [first, wanted])
  const list = useRef<HTMLDivElement>(null)
  const rows = useWindowVirtualizer({
    count: items.length,
    estimateSize: (n) => ('row' in (items[n] ?? { row: 0 }) ? height + GAP : HEADING),
    overscan: 4,
    scrollMargin: list.current?.offsetTop ?? 0,
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: rows of another height are measured anew
  useEffect(() => rows.measure(), [height, items])
  const inView = rows.getVirtualItems()
  const starts = startsOf(inView.map(({ index }) => items[index]))
  const screens = useOverview(workspace, wanted, starts)
  const rowAt = (place: number): Row | undefined => {
    const start = Math.floor(place / ROWS) * ROWS
    return screens[starts.indexOf(start)]?.data?.rows[place - start]
  }
  const order = useHandOrder(workspace)
  const [active, setActive] = useState<number | null>(null)
  const strip = useStripPlace(list)
  const hairline = useHairline()

  const activeSlug = active === null ? undefined : rowAt(active)?.slug
  // biome-ignore lint/correctness/useExhaustiveDependencies: it takes the focus once it is there
  useEffect(() => {
    const link =
      activeSlug && list.current?.querySelector<HTMLElement>(`[data-row="${activeSlug}"]`)
    if (link && document.activeElement !== link) link.focus({ preventScroll: true })
  }, [activeSlug, inView])

  function moveTo(place: number) {
    const count = items.filter((item) => 'row' in item).length
    const next = Math.max(0, Math.min(count - 1, place))
    rows.scrollToIndex(
      items.findIndex((item) => 'row' in item && item.row === next),
      { align: 'auto' },
    )
    setActive(next)
  }

  function putAt(from: number, to: number) {
    const [moved, beside] = [rowAt(from), rowAt(to)]
    if (!moved || !beside || moved === beside) return
    const by = { slug: moved.slug, next_to: beside.slug, after: to > from, order: wanted.order }
    order.mutate(by, { onSuccess: props.onByHand })
    setActive(to)
  }

  function onKey(event: KeyboardEvent<HTMLDivElement>) {
    const link = (event.target as HTMLElement).closest<HTMLElement>('[data-row]')
    const place = link ? Number(link.closest('[data-place]')?.getAttribute('data-place')) : -1
    const row = rowAt(place)
    if (!row || event.ctrlKey || event.metaKey) return
    const vertical = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    const across = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    const key = event.key.toLowerCase()
    if (vertical && event.altKey) putAt(place, place + vertical)
    else if (vertical) {
      moveTo(place + vertical)
      if (peeked) props.onPeek(rowAt(place + vertical)?.slug ?? peeked)
    } else if (across) step(row, across)
    else if (event.key === 'Home') moveTo(0)
    else if (event.key === 'End') moveTo(first.count - 1)
    else if (key === 'v') props.onPeek(peeked === row.slug ? null : row.slug)
    else if (key === 's') props.onChoose(row.slug)
    else if (event.key === 'Escape') {
      hairline.set(null)
      props.onPeek(null)
    } else return
    event.preventDefault()
  }

  /** Moves the hairline to the next period of a row. */
  function step(row: Row, by: number) {
    const times = row.chart.period.map(dayTime)
    const time = hairline.get() ?? domain[1] + DAY
    const next =
      by > 0
        ? times.find((one) => one > time)
        : times.findLast((one) => one < time && one >= domain[0])
    hairline.set(next ?? hairline.get())
  }

  function point(event: PointerEvent<HTMLDivElement>) {
    if (!strip || !list.current) return
    const px = event.clientX - list.current.getBoundingClientRect().left - strip.left
    const inside = px >= 0 && px <= strip.width
    hairline.set(inside ? linear(domain, [5, strip.width - 5]).invert(px) : null)
  }

  return (
    <div ref={watched} className={dense ? classes.dense : ''}>
      <div className={classes.columns}>
        <span>KPI</span>
        <span>
          {strip && <TimeAxis domain={domain} width={strip.width} onChoose={props.onDates} />}
        </span>
        <span style={{ paddingLeft: 10 }}>latest</span>
        <span style={{ paddingLeft: 6 }}>what to know</span>
      </div>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the links in it take the keys, the pointer moves the hairline */}
      <div
        ref={list}
        className={classes.list}
        style={{ height: rows.getTotalSize() }}
        onKeyDown={onKey}
        onPointerMove={point}
        onPointerLeave={() => hairline.set(null)}
      >
        {inView.map(({ index, start, key }) => {
          const item = items[index]
          const at = { transform: `translateY(${start - rows.options.scrollMargin}px)` }
          if (!item) return null
          if (!('row' in item))
            return (
              <GroupHeading
                key={key}
                {...{ workspace, item }}
                at={{ ...at, height: HEADING }}
                onFold={() =>
                  props.onFold(
                    item.folded
                      ? wanted.folded.filter((name) => name !== item.group)
                      : [...wanted.folded, item.group],
                  )
                }
              />
            )
          const row = rowAt(item.row)
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents lint/a11y/noStaticElementInteractions: its link is what is pressed by key
            <div
              key={key}
              className={classes.row}
              style={{ ...at, height }}
              data-place={item.row}
              data-chosen={row !== undefined && chosen.includes(row.slug)}
              draggable={wanted.order === 'hand'}
              onDragStart={(event) => event.dataTransfer.setData('text/plain', String(item.row))}
              onDragOver={(event) => wanted.order === 'hand' && event.preventDefault()}
              onDrop={(event) => putAt(Number(event.dataTransfer.getData('text/plain')), item.row)}
              onFocus={() => setActive(item.row)}
              onClick={(event) => {
                if (row && !(event.target as Element).closest('a, button, input, label'))
                  props.onOpen(row.slug)
              }}
            >
              {row ? (
                <StripRow
                  {...{ row, workspace, domain }}
                  width={strip?.width ?? 10}
                  height={narrow ? STRIP_ON_A_PHONE : height - 4}
                  chosen={chosen.includes(row.slug)}
                  onChoose={props.onChoose}
                />
              ) : (
                <Skeleton
                  height={height - 16}
                  mx={10}
                  width="auto"
                  style={{ gridColumn: '1 / -1' }}
                />
              )}
            </div>
          )
        })}
        {strip && <StripLine {...{ domain, strip }} height={rows.getTotalSize()} />}
      </div>
      {strip && <StripFlag {...{ domain, strip }} nearby={first.nearby} />}
    </div>
  )
}

/** Where the strips are in the list: their column gives way to the others. */
function useStripPlace(list: RefObject<HTMLDivElement | null>) {
  const [place, setPlace] = useState<StripPlace | null>(null)
  useEffect(() => {
    const strip = list.current?.querySelector('[data-place]')
    const box = list.current?.getBoundingClientRect()
    if (!strip || !box) return
    const column = strip.querySelector<HTMLElement>(`.${classes.strip}`)?.getBoundingClientRect()
    const next = column
      ? { left: column.left - box.left, width: Math.floor(column.width) }
      : { left: 230, width: Math.max(60, box.width - 510) }
    if (next.left !== place?.left || next.width !== place.width) setPlace(next)
  })
  return place
}

function GroupHeading({
  workspace,
  item,
  at,
  onFold,
}: {
  workspace: string
  item: GroupItem
  at: CSSProperties
  onFold: () => void
}) {
  return (
    <div className={classes.heading} style={at}>
      <button type="button" aria-expanded={!item.folded} onClick={onFold}>
        {item.folded ? <IconChevronRight size={14} /> : <IconChevronDown size={14} />}
        {item.group || 'No group'} · {item.count}
      </button>
      {item.group && (
        <AddToPage
          workspace={workspace}
          size="compact-xs"
          variant="subtle"
          panels={[{ kind: 'overview', group: item.group }]}
        />
      )}
    </div>
  )
}

function itemsOf({ count, groups }: Overview, { order, folded }: Wanted): Item[] {
  if (order !== 'group') return Array.from({ length: count }, (_, row) => ({ row }))
  const items: Item[] = []
  let row = 0
  for (const { name, count } of groups) {
    const isFolded = folded.includes(name)
    items.push({ group: name, count, folded: isFolded })
    if (!isFolded) for (let n = 0; n < count; n++) items.push({ row: row++ })
  }
  return items
}

/** Where the screens begin that rows are on. */
function startsOf(items: (Item | undefined)[]): number[] {
  const rows = items.flatMap((item) => (item && 'row' in item ? [item.row] : []))
  return [...new Set([0, ...rows.map((row) => Math.floor(row / ROWS) * ROWS)])]
}
