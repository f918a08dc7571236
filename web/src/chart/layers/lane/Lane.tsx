import { type KeyboardEvent, useEffect, useRef } from 'react'
import { counted } from '../../../shared/writing.ts'
import classes from '../../Chart.module.css'
import { onPress } from '../../gestures/onPress.ts'
import { useDragAcross } from '../../gestures/useDragAcross.ts'
import { type Geometry, positionAt, type Span } from '../../model/geometry.ts'
import type { Chart } from '../../model/types.ts'
import { fitted, textWidth } from '../../text/measure.ts'

/** What moves the shift that a segment begins with, by the segment's number. */
export interface ShiftHandles {
  /** Takes hold of it; false where it cannot be moved. */
  onHold: (number: number) => boolean
  onMove: (position: number) => void
  onDrop: () => void
  /** Lets it go back to where it was. */
  onCancel: () => void
  onKey: (number: number, event: KeyboardEvent<SVGGElement>) => void
}

export interface LaneActs {
  /** Opens a segment's card. */
  onOpen: (number: number, x: number) => void
  /** Puts a shift at a place of the lane. */
  onPlaceAt: (x: number) => void
  handles: ShiftHandles | null
}

/** Segments with their names, and the handles of the shifts between them. */
export function Lane({
  chart,
  geometry,
  moving,
  acts,
}: {
  chart: Chart
  geometry: Geometry
  /** The segment whose shift is being moved or placed. */
  moving: number | null
  acts: LaneActs
}) {
  const bind = useDragAcross<number>({
    onHold: (number) => acts.handles?.onHold(number) ?? false,
    onMove: (_, px) => {
      const position = positionAt(chart, geometry, px)
      if (position !== undefined) acts.handles?.onMove(position)
    },
    onDrop: () => acts.handles?.onDrop(),
    onCancel: () => acts.handles?.onCancel(),
  })
  return (
    <g>
      {geometry.spans.map((span) => (
        <Bar key={span.number} {...{ span, chart, geometry, acts }} />
      ))}
      {geometry.spans
        .filter((span) => span.number > 0 && geometry.indexOf.has(span.segment.first))
        .map((span) => (
          <Handle
            key={span.number}
            {...{ span, chart, geometry, acts }}
            active={moving === span.number}
            drag={bind(span.number)}
          />
        ))}
    </g>
  )
}

interface PartProps {
  span: Span
  chart: Chart
  geometry: Geometry
  acts: LaneActs
}

function Bar({ span, chart, geometry, acts }: PartProps) {
  const { segment, number, x0, x1 } = span
  const [top, bottom] = geometry.lane
  const middle = (top + bottom) / 2
  const last = number === chart.segments.length - 1
  const count = counted(
    segment.stop - segment.first,
    chart.kpi.derivation?.by === 'time_between' ? 'interval' : chart.kpi.grain,
  )
  const note = segment.firmness === 'provisional' ? `${count}, provisional` : count
  const name = segment.name || (number === 0 ? 'All so far' : 'Unnamed segment')
  const room = x1 - x0 - 30
  const shownName = fitted(name, room, 600)
  const showNote = textWidth(name, 600) + textWidth(note) + 20 < room
  const open = () => acts.onOpen(number, (x0 + x1) / 2)
  return (
    // biome-ignore lint/a11y/useSemanticElements: an SVG has no button element
    <g
      role="button"
      tabIndex={0}
      className={classes.bar}
      aria-label={`Segment ${name}, ${note}. Open to name it or change its limits.`}
      onClick={open}
      onDoubleClick={(event) => {
        const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect()
        if (box) acts.onPlaceAt(event.clientX - box.left)
      }}
      onKeyDown={onPress(open)}
    >
      <title>{segment.what_changed || name}</title>
      {/* Pressed a little above and below what is seen of it. */}
      <rect
        x={x0}
        y={top - 1}
        width={Math.max(0, x1 - x0)}
        height={bottom - top + 2}
        fill="transparent"
      />
      <rect
        x={x0 + (number ? 1 : 0)}
        y={top}
        width={Math.max(0, x1 - x0 - (number ? 1 : 0))}
        height={bottom - top}
        rx={4}
        fill={last ? 'var(--lane-now)' : 'var(--lane)'}
      />
      {shownName && (
        <text x={x0 + 14} y={middle} dy="0.35em" className={classes.segmentName}>
          {shownName}
        </text>
      )}
      {showNote && (
        <text x={x1 - 15} y={middle} dy="0.35em" textAnchor="end" className={classes.segmentNote}>
          {note}
        </text>
      )}
    </g>
  )
}

function Handle({
  span,
  chart,
  geometry,
  acts,
  active,
  drag,
}: PartProps & { active: boolean; drag: object }) {
  const handle = useRef<SVGGElement>(null)
  useEffect(() => {
    // A shift in the hand has the focus, so that the arrow keys move it.
    if (active) handle.current?.focus()
  }, [active])
  const { segment, number, x0 } = span
  const [top, bottom] = geometry.lane
  const color = active ? 'var(--mark-run)' : 'var(--ink)'
  return (
    <g
      ref={handle}
      role="slider"
      tabIndex={0}
      className={classes.handle}
      data-shift={number}
      aria-label={`Process shift ${segment.name}`.trim()}
      aria-valuemin={1}
      aria-valuemax={chart.count - 1}
      aria-valuenow={segment.first}
      aria-valuetext={segment.label}
      {...drag}
      onKeyDown={(event) => acts.handles?.onKey(number, event)}
    >
      <line
        x1={x0}
        x2={x0}
        y1={geometry.values[0] - 10}
        y2={geometry.bottom}
        stroke={color}
        strokeWidth={1.3}
        strokeDasharray={active ? '2 3' : undefined}
      />
      <rect x={x0 - 12} y={top - 5} width={24} height={bottom - top + 10} fill="transparent" />
      <rect
        className={classes.grip}
        x={x0 - 4.5}
        y={top - 2}
        width={9}
        height={bottom - top + 4}
        rx={2.5}
        fill={color}
      />
      <path
        d={`M${x0 - 1.5},${top + 6}v${bottom - top - 12}M${x0 + 1.5},${top + 6}v${bottom - top - 12}`}
        stroke="var(--card)"
        strokeWidth={1}
      />
    </g>
  )
}
