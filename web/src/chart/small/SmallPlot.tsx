import { memo } from 'react'
import { Mark, SetAside } from '../layers/Mark.tsx'
import { areaPath, linePath } from '../model/path.ts'
import { nearestTo, type Placed, type SmallChart } from './place.ts'

interface Props {
  chart: SmallChart
  placed: Placed
  /** Draws but one of them, where other lines go between: the levels, or the values. */
  only?: 'levels' | 'values'
  color?: string
  markSize?: number
  target?: boolean
}

/** What a small chart draws: limits as a tint by segment, the average, values, marks, shifts. */
export const SmallPlot = memo(function SmallPlot({
  chart,
  placed: { times, x, y, height },
  only,
  color = 'var(--ink)',
  markSize = 4,
  target = false,
}: Props) {
  const px = (n: number) => x(times[n] ?? 0)
  const aside = new Set(chart.aside)
  const path = linePath(times.length, (n) =>
    aside.has(n) ? null : [px(n), y(chart.value[n] ?? 0)],
  )
  return (
    <g>
      {only !== 'values' && <Levels chart={chart} px={px} y={y} height={height} />}
      {target && chart.target !== null && (
        <path
          d={[chart.target, chart.target_high]
            .filter((level) => level !== null)
            .map((level) => `M${x.domain[0] && x(x.domain[0])},${y(level)}H${x(x.domain[1])}`)
            .join('')}
          stroke="var(--target)"
          strokeWidth={1.4}
          strokeDasharray="7 3 1.5 3"
        />
      )}
      {only !== 'levels' && (
        <>
          <path d={path} fill="none" stroke={color} strokeWidth={1.1} strokeLinejoin="round" />
          {chart.aside.map((n) => (
            <SetAside key={n} x={px(n)} y={y(chart.value[n] ?? 0)} size={3} />
          ))}
          {chart.marks.map((mark) => (
            <Mark
              key={mark.index}
              kind={mark.mark}
              x={px(mark.index)}
              y={y(chart.value[mark.index] ?? 0)}
              size={markSize}
            />
          ))}
        </>
      )}
    </g>
  )
})

function Levels({
  chart,
  px,
  y,
  height,
}: {
  chart: SmallChart
  px: (n: number) => number
  y: (value: number) => number
  height: number
}) {
  const { average, lower, upper } = chart
  if (average && lower && upper) {
    const at = (course: (number | null)[], n: number) => course[n] ?? null
    return (
      <>
        <path
          d={areaPath(chart.value.length, (n) => {
            const [low, high] = [at(lower, n), at(upper, n)]
            return low === null || high === null ? null : { x: px(n), low: y(low), high: y(high) }
          })}
          fill="var(--mist)"
        />
        <path
          d={linePath(chart.value.length, (n) => {
            const level = at(average, n)
            return level === null ? null : [px(n), y(level)]
          })}
          fill="none"
          stroke="var(--sea)"
        />
      </>
    )
  }
  return chart.segments.map(({ first, last, begins, average, lower, upper }, n) => {
    const [from, to] = [px(first) - 2, px(last) + 2]
    return (
      // biome-ignore lint/suspicious/noArrayIndexKey: a segment is known by its place
      <g key={n}>
        {begins && (
          <path
            d={`M${(px(first) + px(Math.max(0, first - 1))) / 2},2V${height - 2}`}
            stroke="var(--quiet)"
            strokeWidth={1}
            strokeDasharray="2 2"
            data-part="border"
          />
        )}
        {lower !== null && upper !== null && (
          <rect
            x={from}
            y={y(upper)}
            width={Math.max(1, to - from)}
            height={Math.max(1, y(lower) - y(upper))}
            fill="var(--mist)"
          />
        )}
        {average !== null && (
          <path d={`M${from},${y(average)}H${to}`} stroke="var(--sea)" strokeWidth={1.3} />
        )}
      </g>
    )
  })
}

/** Days before and after the hairline that are drawn stronger. */
const NEAR = 28 * 86_400_000

/** What is near the hairline, drawn stronger, with the point that it reads. */
export function NearHairline({
  chart,
  placed: { times, x, y },
  time,
}: {
  chart: SmallChart
  placed: Placed
  time: number
}) {
  const n = nearestTo(times, time)
  if (n === undefined) return null
  const aside = new Set(chart.aside)
  const path = linePath(times.length, (at) =>
    aside.has(at) || Math.abs((times[at] ?? 0) - time) > NEAR
      ? null
      : [x(times[at] ?? 0), y(chart.value[at] ?? 0)],
  )
  return (
    <g pointerEvents="none">
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth={1.8} strokeLinejoin="round" />
      <circle
        cx={x(times[n] ?? 0)}
        cy={y(chart.value[n] ?? 0)}
        r={3.4}
        fill="var(--card)"
        stroke="var(--ink)"
        strokeWidth={1.6}
      />
    </g>
  )
}
