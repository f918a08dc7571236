import { memo } from 'react'
import type { Geometry } from '../model/geometry.ts'
import { MARK_COLOR, type Marks } from '../model/markKinds.ts'
import { linePath } from '../model/path.ts'
import type { Chart } from '../model/types.ts'
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
  const { times, x, y, ry, spacing } = geometry
  const aside = new Set(chart.set_aside.map((mark) => mark.position))
  const hollow = new Set(chart.hollow_ranges)
  const radius = spacing < ROOM_FOR_DOTS ? 0 : spacing < ROOM_FOR_LARGE_DOTS ? 1.8 : 3
  const size = spacing < ROOM_FOR_DOTS ? 3.4 : 6
  // Many points close together would lie over the levels like ink.
  const stroke = { stroke: 'var(--ink)', strokeOpacity: spacing < ROOM_FOR_DOTS ? 0.34 : 0.72 }
  const at = (n: number) => x(times[n] ?? 0)
  const count = points.position.length
  const values = linePath(count, (n) => [at(n), y(points.value[n] ?? 0)])
  const ranges = linePath(count, (n) => {
    const range = points.moving_range[n] ?? null
    return range === null ? null : [at(n), ry(range)]
  })

  return (
    <g>
      <path d={values} fill="none" {...stroke} strokeWidth={1.1} />
      <path d={ranges} fill="none" {...stroke} strokeWidth={1} />
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
            ) : kind ? (
              <Mark kind={kind} x={at(n)} y={y(value)} size={size} />
            ) : (
              radius > 0 && <circle cx={at(n)} cy={y(value)} r={radius} fill="var(--ink)" />
            )}
            {range !== null &&
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
      {spacing >= ROOM_FOR_DOTS && <RunBars chart={chart} geometry={geometry} />}
    </g>
  )
})

/** A bar along each run, on the far side from the average. */
function RunBars({ chart, geometry }: { chart: Chart; geometry: Geometry }) {
  return chart.signals
    .filter((signal) => signal.mark === 'run')
    .map((signal) => {
      const place = runBar(signal, chart, geometry)
      return (
        place && (
          <rect
            key={`${signal.points[0]} ${signal.side}`}
            x={place.x0}
            width={place.x1 - place.x0}
            y={place.y - 2}
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
  const places = drawn.map((n) => x(times[n] ?? 0))
  const heights = drawn.map((n) => y(chart.points.value[n] ?? 0))
  const above = signal.side === 1
  const edge = above ? Math.min(...heights) - 13 : Math.max(...heights) + 13
  return {
    x0: Math.min(...places) - 4,
    x1: Math.max(...places) + 4,
    y: Math.max(values[0] + 3, Math.min(values[1] - 3, edge)),
    above,
  }
}
