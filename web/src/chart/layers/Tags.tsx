import { useRef } from 'react'
import classes from '../Chart.module.css'
import { onPress } from '../gestures/onPress.ts'
import { useDragAcross } from '../gestures/useDragAcross.ts'
import type { Geometry } from '../model/geometry.ts'
import { spreadOut } from '../model/labelPlacement.ts'
import { COLORS } from '../model/overlays.ts'
import { type LineName, type TagText, tagName, tagTexts } from '../model/tags.ts'
import type { Chart, Shown } from '../model/types.ts'

export interface Pull {
  /** Which levels can be pulled up and down. */
  can: (line: LineName) => boolean
  /** One is pulled to a level; `dropped` once the hand lets go, null where it gives up. */
  to: (line: LineName, level: number | null, dropped: boolean, at: { x: number; y: number }) => void
}

interface Props {
  pull: Pull
}

interface Tag extends TagText {
  y: number
  color: string
}

const TAG_HEIGHT = 22
/** How far a level is pulled before it is moved rather than opened, in pixels. */
const PULL = 4

/** Direct tags at the lines' right ends, pushed apart; each opens its line. */
export function Tags({
  chart,
  geometry,
  shown,
  preview,
  onOpen,
  onAdd = null,
  pull,
}: {
  chart: Chart
  geometry: Geometry
  shown: Shown
  preview: boolean
  onOpen: (line: LineName, y: number) => void
  /** Adds a line, at a height; null where none can be. */
  onAdd?: ((y: number) => void) | null
  pull: Pull
}) {
  const color = preview ? 'var(--mark-run)' : 'var(--sea)'
  const outside = new Set(geometry.outside.map(({ line }) => line.key))
  const tags = tagTexts(chart, shown)
    .filter(({ line }) => !line || !outside.has(line.key))
    .map((tag) => ({
      ...tag,
      y: { values: geometry.y, ranges: geometry.ry, totals: geometry.ty }[tag.panel](tag.value),
      color: tag.line ? COLORS[tag.line.color] : tag.name === 'target' ? 'var(--target)' : color,
    }))
  const column = (panel: TagText['panel'], ends: [number, number]) => (
    <TagColumn
      tags={fitting(
        tags.filter((tag) => tag.panel === panel),
        ends,
      )}
      panel={ends}
      {...{ geometry, onOpen, pull }}
    />
  )
  return (
    <g>
      {onAdd && <Add geometry={geometry} onAdd={onAdd} />}
      {column('values', geometry.values)}
      {column('ranges', geometry.ranges)}
      {geometry.totals && column('totals', geometry.totals)}
    </g>
  )
}

/** Adds a line where the tags of the others are. */
function Add({ geometry, onAdd }: { geometry: Geometry; onAdd: (y: number) => void }) {
  const { right, narrow, values } = geometry
  const [x, y] = [right + (narrow ? 10 : 15), values[0] - 13]
  return (
    // biome-ignore lint/a11y/useSemanticElements: an SVG has no button element
    <g
      role="button"
      tabIndex={0}
      data-on-screen
      className={classes.tag}
      aria-label="Add a line at the edge"
      onClick={() => onAdd(values[0])}
      onKeyDown={onPress(() => onAdd(values[0]))}
    >
      <title>Add a line</title>
      {/* Larger than it looks, for fingers. */}
      <rect x={x - 12} y={y - 12} width={24} height={24} fill="transparent" />
      <circle cx={x} cy={y} r={6} fill="var(--card)" stroke="var(--sea)" />
      <path d={`M${x - 3},${y}H${x + 3}M${x},${y - 3}V${y + 3}`} stroke="var(--sea)" />
    </g>
  )
}

/** As many tags as have room beside a panel; those of the chart itself come first. */
function fitting(tags: Tag[], [top, bottom]: [number, number]): Tag[] {
  const most = Math.floor((bottom - top + TAG_HEIGHT - 4) / (TAG_HEIGHT + 2))
  return tags.slice(0, Math.max(4, most))
}

function TagColumn({
  tags,
  panel,
  geometry,
  onOpen,
  pull,
}: Props & {
  tags: Tag[]
  panel: [number, number]
  geometry: Geometry
  onOpen: (line: LineName, y: number) => void
}) {
  const { right, width, narrow } = geometry
  const half = TAG_HEIGHT / 2
  const level = useRef<number | null>(null)
  const at = useRef({ x: right + 8, y: 0 })
  const held = useRef({ y: 0, geometry })
  const bind = useDragAcross<LineName>(
    {
      onHold: (line) => {
        held.current = { y: tags.find(({ name }) => name === line)?.y ?? 0, geometry }
        return true
      },
      onMove: (line, py, by) => {
        // A tag may stand beside its line: it is the line that goes as far as the hand, on the
        // axis as it was when the hand took hold.
        const height = Math.max(panel[0], Math.min(panel[1], held.current.y + by))
        level.current = held.current.geometry.y.invert(height)
        at.current.y = py
        pull.to(line, level.current, false, at.current)
      },
      onDrop: (line) => pull.to(line, level.current, true, at.current),
      onCancel: (line) => pull.to(line, null, false, at.current),
    },
    PULL,
    'y',
  )
  const heights = spreadOut(
    tags.map((tag) => tag.y),
    TAG_HEIGHT + 2,
    panel[0] + half - 6,
    panel[1] - half + 10,
  )
  const x = right + (narrow ? 3 : 8)
  const tagWidth = width - x - 1
  return tags.map((tag, n) => {
    const height = heights[n] ?? tag.y
    const label = narrow ? '' : tagName(tag, tagWidth)
    const [full] = tag.names
    const open = () => onOpen(tag.name, height)
    const pulled = pull.can(tag.name)
    return (
      // biome-ignore lint/a11y/useSemanticElements: an SVG has no button element
      <g
        key={`${tag.name} ${full}`}
        role="button"
        tabIndex={0}
        aria-label={`${full || (tag.line?.says ?? '')} ${tag.amount}: how it was made`}
        className={classes.tag}
        data-line={tag.name}
        data-pulled={pulled}
        {...(pulled && bind(tag.name))}
        onClick={() => {
          // The click that ends a drag opens nothing: the drop has.
          if (level.current === null) open()
          level.current = null
        }}
        onKeyDown={onPress(open)}
      >
        <title>
          {tag.line
            ? `${full} ${tag.amount}: ${tag.line.says} ${tag.line.over}`
            : `${full} ${tag.amount}`}
        </title>
        <path d={`M${right},${tag.y}L${x},${height}`} stroke={tag.color} fill="none" />
        {/* Pressed a little beyond what is seen of it. */}
        <rect
          x={x}
          y={height - half - 1}
          width={tagWidth}
          height={TAG_HEIGHT + 2}
          fill="transparent"
        />
        <rect
          x={x}
          y={height - half}
          width={tagWidth}
          height={TAG_HEIGHT}
          rx={4}
          fill="var(--card)"
          stroke={tag.color}
        />
        {label && (
          <text x={x + 7} y={height} dy="0.34em" fill={tag.color}>
            {label}
          </text>
        )}
        <text
          x={label ? x + tagWidth - 7 : x + tagWidth / 2}
          y={height}
          dy="0.34em"
          textAnchor={label ? 'end' : 'middle'}
          fill={tag.color}
          className={classes.tagValue}
        >
          {tag.text}
        </text>
      </g>
    )
  })
}
