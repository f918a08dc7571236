import { type SVGProps, useId } from 'react'
import classes from '../Chart.module.css'
import type { Geometry, Span } from '../model/geometry.ts'
import { areaPath, linePath, stepPath } from '../model/path.ts'
import type { Chart, Segment, Shown } from '../model/types.ts'

/** How a line is drawn: firm limits dashed, provisional ones in shorter and thinner dashes. */
const DASHES = { firm: '7 4', provisional: '2.5 4', none: undefined, preview: '1 4' }

interface Props {
  chart: Chart
  geometry: Geometry
  shown: Shown
  /** The segments, first and last, whose levels are drawn dotted: they are not kept yet. */
  previewed: [number, number] | null
  /** The chart as it is kept, whose levels are drawn thin where others are previewed. */
  kept: Chart | null
}

/** The shaded region, average and limits of each segment, on both charts. */
export function Limits({ chart, geometry, shown, previewed, kept }: Props) {
  return (
    <g>
      {geometry.spans.map((span) => (
        <SegmentLevels
          key={span.number}
          chart={chart}
          span={span}
          geometry={geometry}
          shown={shown}
          preview={previewed !== null && within(span, previewed)}
        />
      ))}
      {kept && previewed && <Kept {...{ kept, geometry, shown, previewed }} />}
      {shown.target && <Target chart={chart} geometry={geometry} />}
    </g>
  )
}

const within = ({ number }: Span, [first, last]: [number, number]) =>
  number >= first && number <= last

/** The levels as they are kept, thin and quiet, where others are previewed. */
function Kept({
  kept,
  geometry,
  shown,
  previewed,
}: {
  kept: Chart
  geometry: Geometry
  shown: Shown
  previewed: [number, number]
}) {
  const clip = useId()
  const spans = geometry.spans.filter((span) => within(span, previewed))
  const [x0, x1] = [spans[0]?.x0 ?? 0, spans.at(-1)?.x1 ?? 0]
  const thin = { stroke: 'var(--quiet)', strokeWidth: 1 }
  return (
    <g data-part="kept" clipPath={`url(#${clip})`}>
      <clipPath id={clip}>
        <rect x={x0} y={0} width={Math.max(0, x1 - x0)} height={geometry.height} />
      </clipPath>
      {geometry.keptSpans.map((span) => (
        <Lines
          key={span.number}
          {...{ span, geometry, shown }}
          chart={kept}
          average={thin}
          limit={{ ...thin, strokeDasharray: DASHES.firm }}
        />
      ))}
    </g>
  )
}

/** The target: one level or a range, or steps of it where it came with the values and changes. */
function Target({ chart, geometry }: { chart: Chart; geometry: Geometry }) {
  const { targets, targets_high, target_now, target_high_now } = chart
  return (
    <>
      <TargetSide level={target_now} levels={targets} geometry={geometry} />
      <TargetSide level={target_high_now} levels={targets_high} geometry={geometry} />
    </>
  )
}

function TargetSide({
  level: target,
  levels,
  geometry,
}: {
  level: number | null
  levels: Chart['targets']
  geometry: Geometry
}) {
  const { left, right, x, y, times, spacing } = geometry
  if (target === null) return null
  const steps = stepPath(times.length, (n) => {
    const level = levels?.[n] ?? null
    return level === null ? null : [x(times[n] ?? 0) - spacing / 2, y(level)]
  })
  const last = levels?.at(-1) ?? null
  const path = !levels
    ? `M${left},${y(target)}H${right}`
    : `${steps}${last === null ? '' : `H${right}`}`
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

interface Drawn {
  chart: Chart
  span: Span
  geometry: Geometry
  shown: Shown
}

/** The levels of one segment and the shaded region between its limits, on both charts. */
function SegmentLevels({ preview, ...drawn }: Drawn & { preview: boolean }) {
  const { segment, number } = drawn.span
  const color = preview ? 'var(--mark-run)' : 'var(--sea)'
  const provisional = segment.firmness === 'provisional'
  return (
    <g data-segment={number} data-firmness={segment.firmness}>
      {drawn.shown.limits && (
        <Regions
          {...drawn}
          fill={preview ? 'var(--preview-fill)' : 'var(--mist)'}
          fillOpacity={provisional ? 0.5 : 0.85}
        />
      )}
      <Lines
        {...drawn}
        average={{
          stroke: color,
          strokeWidth: 2.2,
          ...(preview ? { strokeDasharray: DASHES.preview, strokeLinecap: 'round' } : {}),
        }}
        limit={{
          stroke: color,
          strokeWidth: provisional ? 1 : 1.3,
          strokeDasharray: preview ? DASHES.preview : DASHES[segment.firmness],
        }}
      />
    </g>
  )
}

function Regions({
  chart,
  span,
  geometry,
  fill,
  fillOpacity,
}: Drawn & { fill: string; fillOpacity: number }) {
  const { x, y, ry, ranges, times } = geometry
  const { segment, x0, x1 } = span
  const { upper, lower } = chart.points
  const width = Math.max(0, x1 - x0)
  const box = { className: classes.region, fill, fillOpacity, x: x0, width }
  return (
    <>
      {follows(chart, segment) ? (
        <path
          fill={fill}
          fillOpacity={fillOpacity}
          d={areaPath(times.length, (n) => {
            const [low, high] = [lower?.[n] ?? null, upper?.[n] ?? null]
            return high === null || low === null || !isOf(chart, segment, n)
              ? null
              : { x: x(times[n] ?? 0), low: y(low), high: y(high) }
          })}
        />
      ) : (
        segment.upper !== null &&
        segment.lower !== null && (
          <rect
            {...box}
            y={y(segment.upper)}
            height={Math.max(0, y(segment.lower) - y(segment.upper))}
          />
        )
      )}
      {segment.range_limit !== null && (
        <rect
          {...box}
          y={ry(segment.range_limit)}
          height={Math.max(0, ranges[1] - ry(segment.range_limit))}
        />
      )}
    </>
  )
}

type Stroke = Pick<
  SVGProps<SVGLineElement>,
  'stroke' | 'strokeWidth' | 'strokeDasharray' | 'strokeLinecap'
>

/** Average and limits of one segment; those that follow a trend or a season point by point. */
function Lines({ average, limit, ...drawn }: Drawn & { average: Stroke; limit: Stroke }) {
  const { chart, span, geometry, shown } = drawn
  const { x, y, ry, times } = geometry
  const { segment, x0, x1 } = span
  const following = follows(chart, segment)
  const draw = (part: 'centre' | 'upper' | 'lower', level: number | null, stroke: Stroke) => {
    const levels = chart.points[part]
    if (!following) return level !== null && <Level from={x0} to={x1} at={y(level)} {...stroke} />
    const path = linePath(times.length, (n) => {
      const at = levels?.[n] ?? null
      return at === null || !isOf(chart, segment, n) ? null : [x(times[n] ?? 0), y(at)]
    })
    const { strokeDasharray, ...plain } = stroke
    return (
      <path
        d={path}
        data-part={part}
        fill="none"
        {...plain}
        // A dotted line along a slope is hard to see.
        strokeDasharray={part === 'centre' ? undefined : strokeDasharray}
      />
    )
  }
  return (
    <>
      {shown.limits && draw('upper', segment.upper, limit)}
      {shown.limits && draw('lower', segment.lower, limit)}
      {shown.average && draw('centre', segment.average, average)}
      {shown.limits && segment.range_limit !== null && (
        <Level from={x0} to={x1} at={ry(segment.range_limit)} {...limit} />
      )}
      {shown.average && segment.average_range !== null && (
        <Level from={x0} to={x1} at={ry(segment.average_range)} {...average} />
      )}
    </>
  )
}

/** Whether the levels of a segment are drawn point by point. */
const follows = (chart: Chart, segment: Segment) =>
  segment.follows !== 'level' && chart.points.centre !== null

/** Whether a drawn point, by its index, is one of a segment. */
function isOf({ points }: Chart, { first, stop }: Segment, index: number): boolean {
  const position = points.position[index] ?? -1
  return position >= first && position < stop
}
