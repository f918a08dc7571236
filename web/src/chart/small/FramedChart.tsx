import { type PointerEvent, useMemo } from 'react'
import { tickText, valueText } from '../../shared/numbers.ts'
import { shortPeriod } from '../../shared/writing.ts'
import { useHairline, useHairlineTime } from '../hairline.tsx'
import { tickLine, ticksOf } from '../model/time.ts'
import { nearestTo, type Placed, place, type SmallChart, type Span } from './place.ts'
import { NearHairline, SmallPlot } from './SmallPlot.tsx'
import { WordsAtPoint } from './WordsAtPoint.tsx'

export const AXIS = 46
export const FOOT = 18

interface Props {
  chart: SmallChart
  label: string
  domain: Span
  reach: Span | null
  width: number
  height: number
  target?: boolean
}

/** A small chart with its axes, to be compared with others; it shares the hairline with them. */
export function FramedChart(props: Props) {
  const { chart, label, domain, reach, width, height, target = false } = props
  const inner = height - FOOT
  const placed = useMemo(
    () => place(chart, { width, height: inner, left: AXIS }, domain, reach),
    [chart, width, inner, domain, reach],
  )
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={`${label}: ${chart.range || 'no values'}, ${chart.marks.length} marked`}
      {...useFollow(placed)}
    >
      <ValueAxis placed={placed} numbers={chart.numbers} />
      <SmallPlot chart={chart} placed={placed} target={target} />
      <DateAxis domain={domain} placed={placed} y={height - 5} />
      <At chart={chart} placed={placed} />
    </svg>
  )
}

/** Lets the pointer over a plot move the hairline. */
export function useFollow({ x, width }: Placed) {
  const hairline = useHairline()
  return {
    onPointerMove: (event: PointerEvent<SVGSVGElement>) => {
      const px = event.clientX - event.currentTarget.getBoundingClientRect().left
      hairline.set(px > AXIS && px < width ? x.invert(px) : null)
    },
    onPointerLeave: () => hairline.set(null),
  }
}

export function ValueAxis({
  placed: { y, width },
  numbers,
  count = 3,
}: {
  placed: Placed
  numbers: SmallChart['numbers']
  count?: number
}) {
  const ticks = y.ticks(count)
  const step = (ticks[1] ?? 1) - (ticks[0] ?? 0)
  return (
    <g fontSize={11} fill="var(--quiet)">
      {ticks.map((tick) => (
        <g key={tick}>
          <path d={`M${AXIS},${y(tick)}H${width}`} stroke="var(--hairline)" strokeWidth={0.6} />
          <text x={AXIS - 6} y={y(tick) + 4} textAnchor="end">
            {tickText(tick, step, numbers)}
          </text>
        </g>
      ))}
    </g>
  )
}

export function DateAxis({ domain, placed, y }: { domain: Span; placed: Placed; y: number }) {
  const { x, width } = placed
  return (
    <g fontSize={11} fill="var(--quiet)">
      {ticksOf([...domain], width - AXIS).map((tick) => {
        const px = x(tick.time)
        if (px < AXIS + 12 || px > width - 16) return null
        return (
          <text key={tick.time} x={px} y={y} textAnchor="middle">
            {tickLine(tick)}
          </text>
        )
      })}
    </g>
  )
}

function At({ chart, placed }: { chart: SmallChart; placed: Placed }) {
  const time = useHairlineTime()
  const n = time === null ? undefined : nearestTo(placed.times, time)
  if (time === null || n === undefined) return null
  const px = placed.x(time)
  const right = px > placed.width - 110
  return (
    <g pointerEvents="none">
      <path d={`M${px},0V${placed.height}`} stroke="var(--ink)" strokeDasharray="2 3" />
      <NearHairline chart={chart} placed={placed} time={time} />
      <WordsAtPoint x={px} y={12} gap={8} left={right}>
        {valueText(chart.value[n] ?? 0, chart.numbers)} ·{' '}
        {shortPeriod(chart.period[n] ?? '', chart.grain)}
      </WordsAtPoint>
    </g>
  )
}
