import { area, curveStepAfter, line } from 'd3-shape'
import type { SVGProps } from 'react'
import classes from './Chart.module.css'
import type { Geometry, Span } from './geometry.ts'
import type { Chart, Shown } from './types.ts'

/** How a line is drawn: firm limits dashed, provisional ones in shorter and thinner dashes. */
const DASHES = { firm: '7 4', provisional: '2.5 4', none: undefined, preview: '1 4' }

interface Props {
  chart: Chart
  geometry: Geometry
  shown: Shown
  /** The segments, first and last, whose levels are drawn dotted: they are not kept yet. */
  previewed: [number, number] | null
}

/** The shaded region, average and limits of each segment, on both charts. */
export function Limits({ chart, geometry, shown, previewed }: Props) {
  return (
    <g>
      {geometry.spans.map((span) => (
        <SegmentLevels
          key={span.number}
          chart={chart}
          span={span}
          geometry={geometry}
          shown={shown}
          preview={previewed !== null && span.number >= previewed[0] && span.number <= previewed[1]}
        />
      ))}
      {shown.target && <Target chart={chart} geometry={geometry} />}
    </g>
  )
}

/** The target: one level, or steps where it came with the values and changes. */
function Target({ chart, geometry }: { chart: Chart; geometry: Geometry }) {
  const { left, right, x, y, times, spacing } = geometry
  const target = chart.target_now
  if (target === null) return null
  const steps = line<number | null>(
    (_, n) => x(times[n] ?? 0) - spacing / 2,
    (level) => y(level ?? 0),
  )
    .defined((level) => level !== null)
    .curve(curveStepAfter)(chart.targets ?? [])
  const last = chart.targets?.at(-1) ?? null
  const path = !chart.targets
    ? `M${left},${y(target)}H${right}`
    : `${steps ?? ''}${last === null ? '' : `H${right}`}`
  return (
    <path
      d={path}
      fill="none"
      stroke="var(--target)"
      strokeWidth={1.6}
      strokeDasharray="10 4 2 4"
      data-part="target"
    />
  )
}

/** A horizontal line; it slides when its level changes. */
function Level({
  from,
  to,
  at,
  ...stroke
}: { from: number; to: number; at: number } & SVGProps<SVGLineElement>) {
  return (
    <line
      className={classes.level}
      x1={from}
      x2={to}
      style={{ transform: `translateY(${at}px)` }}
      {...stroke}
    />
  )
}

/** Centre and limits of a segment that follow a trend or a season, point by point. */
function Followed({
  chart,
  span,
  geometry,
  shown,
  color,
  fill,
  dash,
}: {
  chart: Chart
  span: Span
  geometry: Geometry
  shown: Shown
  color: string
  fill: string
  dash: string | undefined
}) {
  const { x, y, times } = geometry
  const { position, centre, upper, lower } = chart.points
  const own = position.flatMap((place, n) =>
    place >= span.segment.first && place < span.segment.stop ? [n] : [],
  )
  const path = (levels: typeof centre) =>
    line<number>(
      (n) => x(times[n] ?? 0),
      (n) => y(levels?.[n] ?? 0),
    ).defined((n) => levels?.[n] != null)(own) ?? ''
  const between = area<number>(
    (n) => x(times[n] ?? 0),
    (n) => y(lower?.[n] ?? 0),
    (n) => y(upper?.[n] ?? 0),
  ).defined((n) => upper?.[n] != null)(own)
  const limit = { fill: 'none', stroke: color, strokeWidth: 1.3, strokeDasharray: dash }
  return (
    <>
      {shown.limits && (
        <>
          <path d={between ?? ''} fill={fill} fillOpacity={0.85} />
          <path d={path(upper)} data-part="upper" {...limit} />
          <path d={path(lower)} data-part="lower" {...limit} />
        </>
      )}
      {shown.average && (
        <path d={path(centre)} data-part="centre" fill="none" stroke={color} strokeWidth={2.2} />
      )}
    </>
  )
}

function SegmentLevels({
  chart,
  span,
  geometry,
  shown,
  preview,
}: {
  chart: Chart
  span: Span
  geometry: Geometry
  shown: Shown
  preview: boolean
}) {
  const { y, ry, ranges } = geometry
  const { segment, x0, x1 } = span
  const width = Math.max(0, x1 - x0)
  const color = preview ? 'var(--mark-run)' : 'var(--sea)'
  const fill = preview ? 'var(--preview-fill)' : 'var(--mist)'
  const provisional = segment.firmness === 'provisional'
  const dash = preview ? DASHES.preview : DASHES[segment.firmness]
  const line = { stroke: color, strokeWidth: provisional ? 1 : 1.3, strokeDasharray: dash }
  const average = {
    stroke: color,
    strokeWidth: 2.2,
    strokeDasharray: preview ? DASHES.preview : undefined,
    strokeLinecap: preview ? ('round' as const) : undefined,
  }
  const followed = segment.follows !== 'level' && chart.points.centre !== null
  return (
    <g data-segment={span.number} data-firmness={segment.firmness}>
      {followed && <Followed {...{ chart, span, geometry, shown, color, fill, dash }} />}
      {shown.limits && !followed && segment.upper !== null && segment.lower !== null && (
        <>
          <rect
            className={classes.region}
            x={x0}
            width={width}
            y={y(segment.upper)}
            height={Math.max(0, y(segment.lower) - y(segment.upper))}
            fill={fill}
            fillOpacity={provisional ? 0.5 : 0.85}
          />
          <Level from={x0} to={x1} at={y(segment.upper)} {...line} />
          <Level from={x0} to={x1} at={y(segment.lower)} {...line} />
        </>
      )}
      {shown.average && !followed && segment.average !== null && (
        <Level from={x0} to={x1} at={y(segment.average)} {...average} />
      )}
      {shown.limits && segment.range_limit !== null && (
        <>
          <rect
            className={classes.region}
            x={x0}
            width={width}
            y={ry(segment.range_limit)}
            height={Math.max(0, ranges[1] - ry(segment.range_limit))}
            fill={fill}
            fillOpacity={provisional ? 0.5 : 0.85}
          />
          <Level from={x0} to={x1} at={ry(segment.range_limit)} {...line} />
        </>
      )}
      {shown.average && segment.average_range !== null && (
        <Level from={x0} to={x1} at={ry(segment.average_range)} {...average} />
      )}
    </g>
  )
}
