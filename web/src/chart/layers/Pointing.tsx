import { valueText } from '../../shared/numbers.ts'
import { shortPeriod } from '../../shared/writing.ts'
import { useHairlineTime } from '../hairline.tsx'
import type { Geometry } from '../model/geometry.ts'
import type { Chart } from '../model/types.ts'
import { nearestTo } from '../small/place.ts'
import { WordsAtPoint } from '../small/WordsAtPoint.tsx'

/** A line through the point that is read out, on both charts. */
export function Hairline({ geometry, index }: { geometry: Geometry; index: number }) {
  const x = geometry.x(geometry.times[index] ?? 0)
  return (
    <line
      data-on-screen
      x1={x}
      x2={x}
      y1={geometry.values[0] - 10}
      y2={geometry.bottom}
      stroke="var(--quiet)"
      strokeDasharray="2 3"
    />
  )
}

/** Rings around the points that are spoken of. */
export function Lit({
  chart,
  geometry,
  positions,
}: {
  chart: Chart
  geometry: Geometry
  positions: readonly number[]
}) {
  return (
    <g fill="none" stroke="var(--sea)" strokeWidth={2} data-part="lit" data-on-screen>
      {positions.map((position) => {
        const index = geometry.indexOf.get(position)
        if (index === undefined) return null
        const x = geometry.x(geometry.times[index] ?? 0)
        return (
          <circle key={position} cx={x} cy={geometry.y(chart.points.value[index] ?? 0)} r={9} />
        )
      })}
    </g>
  )
}

/** A ring around the point that is read out, and around its moving range. */
export function Ring({
  chart,
  geometry,
  index,
}: {
  chart: Chart
  geometry: Geometry
  index: number
}) {
  const x = geometry.x(geometry.times[index] ?? 0)
  const range = chart.points.moving_range[index] ?? null
  return (
    <g fill="none" stroke="var(--sea)" strokeWidth={2} data-part="chosen" data-on-screen>
      <circle cx={x} cy={geometry.y(chart.points.value[index] ?? 0)} r={8} />
      {range !== null && <circle cx={x} cy={geometry.ry(range)} r={7} />}
    </g>
  )
}

/** The hairline that several charts share, with the value it reads here. */
export function Followed({ chart, geometry }: { chart: Chart; geometry: Geometry }) {
  const time = useHairlineTime()
  const index = time === null ? undefined : nearestTo(geometry.times, time)
  if (index === undefined) return null
  const x = geometry.x(geometry.times[index] ?? 0)
  const right = x > geometry.right - 120
  return (
    <g data-on-screen pointerEvents="none">
      <Hairline geometry={geometry} index={index} />
      <Ring chart={chart} geometry={geometry} index={index} />
      <WordsAtPoint x={x} y={geometry.values[0] + 4} gap={10} left={right}>
        {valueText(chart.points.value[index] ?? 0, chart.kpi.numbers)} ·{' '}
        {shortPeriod(chart.points.period[index] ?? '', chart.kpi.grain)}
      </WordsAtPoint>
    </g>
  )
}
