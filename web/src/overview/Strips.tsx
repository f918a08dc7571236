import { ActionIcon, Skeleton } from '@mantine/core'
import { useMediaQuery } from '@mantine/hooks'
import { IconArrowDown, IconArrowUp, IconChevronDown, IconChevronRight } from '@tabler/icons-react'
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
import { announce } from '../shared/announcing.tsx'
import type { DatesAsked } from '../shared/looking/useDates.ts'
import { useSize } from '../shared/looking/useSize.ts'
import classes from './Overview.module.css'
import {
  type Overview,
  ROWS,
  type Row,
  useGroupOrder,
  useHandOrder,
  useOverview,
  type Wanted,
} from './overview.ts'
import { DAY, type StripBox, StripFlag, StripLine } from './StripHairline.tsx'
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

/** The rows, only those in view, with one time axis and one hairline for all of them. */
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
  const rowAt = (at: number): Row | undefined => {
    const start = Math.floor(at / ROWS) * ROWS
    return screens[starts.indexOf(start)]?.data?.rows[at - start]
  }
  const order = useHandOrder(workspace)
  const [active, setActive] = useState<number | null>(null)
  const strip = useStripBox(list)
  const hairline = useHairline()

  const activeSlug = active === null ? undefined : rowAt(active)?.slug
  // biome-ignore lint/correctness/useExhaustiveDependencies: it takes the focus once it is there
  useEffect(() => {
    const link =
      activeSlug && list.current?.querySelector<HTMLElement>(`[data-row="${activeSlug}"]`)
    if (link && document.activeElement !== link) link.focus({ preventScroll: true })
  }, [activeSlug, inView])

  function moveTo(at: number) {
    const count = items.filter((item) => 'row' in item).length
    const next = Math.max(0, Math.min(count - 1, at))
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
    const at = link ? Number(link.closest('[data-at]')?.getAttribute('data-at')) : -1
    const row = rowAt(at)
    if (!row || event.ctrlKey || event.metaKey) return
    const vertical = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    const across = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    const key = event.key.toLowerCase()
    if (vertical && event.altKey) putAt(at, at + vertical)
    else if (vertical) {
      moveTo(at + vertical)
      if (peeked) props.onPeek(rowAt(at + vertical)?.slug ?? peeked)
    } else if (across)
      hairline.set(
        stepped(row, hairline.get() ?? domain[1] + DAY, across, domain[0]) ?? hairline.get(),
      )
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
                groups={first.groups.map(({ name }) => name)}
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
            <ListedRow
              key={key}
              {...{ workspace, domain, row, height, narrow }}
              at={item.row}
              style={at}
              width={strip?.width ?? 10}
              chosen={row !== undefined && chosen.includes(row.slug)}
              byHand={wanted.order === 'hand'}
              onFocus={() => setActive(item.row)}
              onPut={(from) => putAt(from, item.row)}
              onChoose={props.onChoose}
              onOpen={props.onOpen}
            />
          )
        })}
        {strip && <StripLine {...{ domain, strip }} height={rows.getTotalSize()} />}
      </div>
      {strip && <StripFlag {...{ domain, strip }} nearby={first.nearby} />}
    </div>
  )
}

/** The period of a row after a time, or before it from `first` on. */
function stepped(row: Row, time: number, by: number, first: number): number | undefined {
  const times = row.chart.period.map(dayTime)
  if (by > 0) return times.find((one) => one > time)
  return times.findLast((one) => one < time && one >= first)
}

interface ListedRowProps {
  workspace: string
  domain: Span
  row: Row | undefined
  at: number
  style: CSSProperties
  width: number
  height: number
  narrow: boolean
  chosen: boolean
  byHand: boolean
  onFocus: () => void
  /** Puts the row from another position here. */
  onPut: (from: number) => void
  onChoose: (slug: string) => void
  onOpen: (slug: string) => void
}

/** A row at its position in the list, or its shape until it has come. */
function ListedRow({ row, at, height, style, byHand, onPut, ...props }: ListedRowProps) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents lint/a11y/noStaticElementInteractions: its link is what is pressed by key
    <div
      className={classes.row}
      style={{ ...style, height }}
      data-at={at}
      data-chosen={props.chosen}
      draggable={byHand}
      onDragStart={(event) => event.dataTransfer.setData('text/plain', String(at))}
      onDragOver={(event) => byHand && event.preventDefault()}
      onDrop={(event) => onPut(Number(event.dataTransfer.getData('text/plain')))}
      onFocus={props.onFocus}
      onClick={(event) => {
        if (row && !(event.target as Element).closest('a, button, input, label'))
          props.onOpen(row.slug)
      }}
    >
      {row ? (
        <StripRow
          row={row}
          workspace={props.workspace}
          domain={props.domain}
          width={props.width}
          height={props.narrow ? STRIP_ON_A_PHONE : height - 4}
          chosen={props.chosen}
          onChoose={props.onChoose}
        />
      ) : (
        <Skeleton height={height - 16} mx={10} width="auto" style={{ gridColumn: '1 / -1' }} />
      )}
    </div>
  )
}

/** Where the strips are in the list: their column gives way to the others. */
function useStripBox(list: RefObject<HTMLDivElement | null>) {
  const [box, setBox] = useState<StripBox | null>(null)
  useEffect(() => {
    const strip = list.current?.querySelector('[data-at]')
    const frame = list.current?.getBoundingClientRect()
    if (!strip || !frame) return
    const column = strip.querySelector<HTMLElement>(`.${classes.strip}`)?.getBoundingClientRect()
    const next = column
      ? { left: column.left - frame.left, width: Math.floor(column.width) }
      : { left: 230, width: Math.max(60, frame.width - 532) }
    if (next.left !== box?.left || next.width !== box.width) setBox(next)
  })
  return box
}

function GroupHeading({
  workspace,
  item,
  groups,
  at,
  onFold,
}: {
  workspace: string
  item: GroupItem
  /** All groups, in order. */
  groups: string[]
  at: CSSProperties
  onFold: () => void
}) {
  const order = useGroupOrder(workspace)
  const here = groups.indexOf(item.group)
  const name = item.group || 'No group'
  const move = (by: -1 | 1) => {
    const next_to = groups[here + by]
    if (next_to === undefined) return
    order.mutate({ group: item.group, next_to, after: by > 0 })
    announce(`${name} is ${by > 0 ? 'below' : 'above'} ${next_to || 'No group'}.`)
  }
  const mover = (by: -1 | 1, way: string, Icon: typeof IconArrowUp) => (
    <ActionIcon
      variant="subtle"
      color="gray"
      size={24}
      aria-label={`Move ${name} ${way}`}
      disabled={groups[here + by] === undefined}
      onClick={() => move(by)}
    >
      <Icon size={14} />
    </ActionIcon>
  )
  return (
    <div className={classes.heading} style={at}>
      <button type="button" aria-expanded={!item.folded} onClick={onFold}>
        {item.folded ? <IconChevronRight size={14} /> : <IconChevronDown size={14} />}
        {name} · {item.count}
      </button>
      {groups.length > 1 && mover(-1, 'up', IconArrowUp)}
      {groups.length > 1 && mover(1, 'down', IconArrowDown)}
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
