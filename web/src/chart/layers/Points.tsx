import { memo } from 'react'
import { counted } from '../../shared/writing.ts'
import type { Geometry } from '../model/geometry.ts'
import { MARK_COLOR, type Marks, type Stretch, stretchesOf } from '../model/markKinds.ts'
import { COLORS, drawnLines } from '../model/overlays.ts'
import { linePath, stepPath } from '../model/path.ts'
import type { Chart } from '../model/types.ts'
import { SIZE, textWidth } from '../text/measure.ts'
import { Columns } from './Columns.tsx'
import { Incomplete, Mark, SetAside } from './Mark.tsx'

/** Closer than this, in pixels, routine points are drawn by their line alone. */
export const ROOM_FOR_DOTS = 3.2
/** Closer than this, dots are small. */
const ROOM_FOR_LARGE_DOTS = 7

interface Props {
  chart: Chart
  geometry: Geometry
  marks: Marks
}

/** Both lines with their points: routine ones as dots, flagged ones in their shape. */
export const Points = memo(function Points({ chart, geometry, marks }: Props) {
  const { points } = chart
  const { times, x, y, ry, room } = geometry
  const aside = new Set(chart.set_aside.map((mark) => mark.position))
  const hollow = new Set(chart.hollow_ranges)
  const radius = room < ROOM_FOR_DOTS ? 0 : room < ROOM_FOR_LARGE_DOTS ? 1.8 : 3
  const size = room < ROOM_FOR_DOTS ? 3.4 : 6
  const { drawn_as: form, dots, faint } = chart.kpi
  // Many points close together would lie over the levels like ink.
  const strength = (room < ROOM_FOR_DOTS ? 0.34 : 0.72) * (faint ? 0.4 : 1)
  const stroke = { stroke: 'var(--ink)', strokeOpacity: strength }
  const at = (n: number) => x(times[n] ?? 0)
  const count = points.position.length
  const holds = form === 'steps'
  const routine = { fill: 'var(--ink)', fillOpacity: faint ? 0.35 : 1 }
  const gaps = new Map(chart.gaps.map((gap) => [gap.position, gap.missing]))
  const isGap = (n: number) => gaps.has(points.position[n] ?? -1)
  const values = holds
    ? `${stepPath(count, (n) => [at(n), y(points.value[n] ?? 0)])}`
    : linePath(count, (n) => [at(n), y(points.value[n] ?? 0)], isGap)
  const bridges = holds ? [] : points.position.flatMap((_, n) => (n && isGap(n) ? [n] : []))
  const close = room < ROOM_FOR_LARGE_DOTS
  const stretches = stretchesOf(points, marks.values, close)
  const together = new Set(
    stretches.flatMap(({ first, last }) => points.position.slice(first, last + 1)),
  )
  const ranges = linePath(count, (n) => {
    const range = points.moving_range[n] ?? null
    return range === null ? null : [at(n), ry(range)]
  })

  return (
    <g data-part="points">
      {form === 'columns' ? (
        <Columns chart={chart} geometry={geometry} />
      ) : (
        <path d={values} fill="none" {...stroke} strokeWidth={1.1} />
      )}
      {!holds && <path d={ranges} fill="none" {...stroke} strokeWidth={1} />}
      {(form === 'columns' ? [] : bridges).map((n) => (
        <path
          key={n}
          data-part="gap"
          d={`M${at(n - 1)},${y(points.value[n - 1] ?? 0)}L${at(n)},${y(points.value[n] ?? 0)}`}
          fill="none"
          {...stroke}
          strokeWidth={1}
          strokeDasharray="2 4"
        >
          <title>{counted(gaps.get(points.position[n] ?? -1) ?? 0, chart.kpi.grain)} missing</title>
        </path>
      ))}
      {points.position.map((position, n) => {
        const value = points.value[n] ?? 0
        const range = points.moving_range[n] ?? null
        const kind = marks.values.get(position)
        const rangeKind = marks.ranges.get(position)
        const key = position
        return (
          <g key={key}>
            {position === chart.incomplete ? (
              <Incomplete x={at(n)} y={y(value)} />
            ) : aside.has(position) ? (
              <SetAside x={at(n)} y={y(value)} />
            ) : kind && together.has(position) ? (
              <circle cx={at(n)} cy={y(value)} r={Math.max(radius, 1.6)} fill={MARK_COLOR[kind]} />
            ) : kind ? (
              <Mark kind={kind} x={at(n)} y={y(value)} size={size} />
            ) : (
              radius > 0 &&
              dots &&
              form !== 'columns' && <circle cx={at(n)} cy={y(value)} r={radius} {...routine} />
            )}
            {range !== null &&
              !holds &&
              (hollow.has(position) ? (
                <SetAside x={at(n)} y={ry(range)} size={4} />
              ) : rangeKind ? (
                <Mark kind={rangeKind} x={at(n)} y={ry(range)} size={size - 0.5} />
              ) : (
                radius > 0 && (
                  <circle cx={at(n)} cy={ry(range)} r={radius * 0.8} fill="var(--ink)" />
                )
              ))}
          </g>
        )
      })}
      {stretches
        .filter(({ kind }) => kind !== 'run')
        .map((stretch) => (
          <Together key={stretch.first} {...{ stretch, chart, geometry }} />
        ))}
      {room >= ROOM_FOR_DOTS &&
        markedBeyond(chart).map(({ position, color }) => {
          const n = geometry.indexOf.get(position)
          if (n === undefined) return null
          const [cx, cy] = [at(n), y(points.value[n] ?? 0)]
          return (
            <path
              key={position}
              data-part="beyond"
              d={`M${cx - 6},${cy}L${cx},${cy - 6}L${cx + 6},${cy}L${cx},${cy + 6}Z`}
              fill="none"
              stroke={color}
              strokeWidth={1.6}
            />
          )
        })}
      {room >= ROOM_FOR_DOTS && <RunBars chart={chart} geometry={geometry} />}
    </g>
  )
})

/** The values that are marked since they miss the target, or are beyond a line; each once. */
export function markedBeyond(chart: Chart): { position: number; color: string }[] {
  const marked = new Map<number, string>()
  for (const line of drawnLines(chart))
    for (const position of line.beyond) marked.set(position, COLORS[line.color])
  if (chart.kpi.value_labels === 'off_target')
    for (const position of chart.off_target) marked.set(position, 'var(--target)')
  return [...marked].map(([position, color]) => ({ position, color }))
}

/** One mark with a count, over a bar along a stretch of flagged points. */
function Together({
  stretch,
  chart,
  geometry,
}: {
  stretch: Stretch
  chart: Chart
  geometry: Geometry
}) {
  const { x, y, times, values } = geometry
  const { first, last, kind } = stretch
  const [x0, x1] = [x(times[first] ?? 0), x(times[last] ?? 0)]
  const heights = chart.points.value.slice(first, last + 1).map((value) => y(value))
  const bar = Math.max(values[0] + 10, Math.min(...heights) - 12)
  const count = `${last - first + 1}`
  return (
    <g data-part="together">
      <path d={`M${x0},${bar}H${x1}`} stroke={MARK_COLOR[kind]} strokeWidth={1.5} />
      <Mark kind={kind} x={(x0 + x1) / 2} y={bar} size={4.5} />
      {x1 - x0 > textWidth(count, 600) + 40 && (
        <text
          x={(x0 + x1) / 2 + 9}
          y={bar - 4}
          fontWeight={600}
          fontSize={SIZE}
          fill={MARK_COLOR[kind]}
        >
          {count}
        </text>
      )}
      <title>{`${count} in a row`}</title>
    </g>
  )
}

/** A bar along each run, on the far side from the average. */
function RunBars({ chart, geometry }: { chart: Chart; geometry: Geometry }) {
  return chart.signals
    .filter((signal) => signal.mark === 'run')
    .map((signal) => {
      const bar = runBar(signal, chart, geometry)
      return (
        bar && (
          <rect
            key={`${signal.points[0]} ${signal.side}`}
            x={bar.x0}
            width={bar.x1 - bar.x0}
            y={bar.y - 2}
            height={4}
            rx={2}
            fill={MARK_COLOR.run}
          />
        )
      )
    })
}

/** Where the bar of a run lies; null when none of the run is shown. */
export function runBar(signal: Chart['signals'][number], chart: Chart, geometry: Geometry) {
  const { times, x, y, indexOf, values } = geometry
  const drawn = signal.points.flatMap((point) => indexOf.get(point) ?? [])
  if (drawn.length === 0) return null
  const xs = drawn.map((n) => x(times[n] ?? 0))
  const heights = drawn.map((n) => y(chart.points.value[n] ?? 0))
  const above = signal.side === 1
  const edge = above ? Math.min(...heights) - 13 : Math.max(...heights) + 13
  return {
    x0: Math.min(...xs) - 4,
    x1: Math.max(...xs) + 4,
    y: Math.max(values[0] + 3, Math.min(values[1] - 3, edge)),
    above,
  }
}
