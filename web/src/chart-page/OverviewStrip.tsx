import { extent } from 'd3-array'
import { useDragAcross } from '../chart/gestures/useDragAcross.ts'
import { linePath } from '../chart/model/path.ts'
import { timesOf } from '../chart/model/time.ts'
import type { Chart } from '../chart/model/types.ts'
import classes from './ChartPage.module.css'
import { partOf, type Stretch, sharesOf, wholeOf } from './session/drafts/stretch.ts'

const [WIDTH, HEIGHT] = [1000, 40]

/** All dates of a chart, small, with the part that is shown: it is pulled along, or at its ends. */
export function OverviewStrip({
  chart,
  stretch,
  onChange,
}: {
  chart: Chart
  stretch: Stretch
  onChange: (stretch: Stretch | null) => void
}) {
  const { strip } = chart
  const { grain } = chart.kpi
  const whole = wholeOf(chart)
  const [start, stop] = whole ? sharesOf(whole, stretch) : [0, 1]
  const bind = useDragAcross<{
    part: 'start' | 'stop' | 'all'
    from: [number, number]
    px: number
  }>({
    onHold: () => true,
    onMove: ({ part, from, px }, _, by) => {
      const share = by / px
      const room = Math.max(-from[0], Math.min(share, 1 - from[1]))
      const [a, b] =
        part === 'all'
          ? [from[0] + room, from[1] + room]
          : part === 'start'
            ? [Math.min(from[0] + share, from[1] - 0.01), from[1]]
            : [from[0], Math.max(from[1] + share, from[0] + 0.01)]
      if (whole) onChange(partOf(whole, a, b, grain))
    },
    onDrop: () => undefined,
    onCancel: ({ from }) => whole && onChange(partOf(whole, from[0], from[1], grain)),
  })
  if (!strip || !whole) return null
  const times = timesOf(strip.period, grain)
  const [low = 0, high = 1] = extent(strip.value)
  const [from, to] = [times[0] ?? 0, times.at(-1) ?? 1]
  const x = (time: number) => ((time - from) / (to - from || 1)) * WIDTH
  const y = (value: number) => HEIGHT - 4 - ((value - low) / (high - low || 1)) * (HEIGHT - 8)
  const held = (part: 'start' | 'stop' | 'all') => ({
    onPointerDown: (event: React.PointerEvent<SVGElement>) => {
      const px = event.currentTarget.ownerSVGElement?.getBoundingClientRect().width ?? WIDTH
      bind({ part, from: [start, stop], px }).onPointerDown(event)
    },
  })
  return (
    <svg
      className={classes.strip}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      role="img"
      aria-label="All dates, and the part that is shown. The keys 0, plus and minus change it."
    >
      <path
        d={linePath(times.length, (n) => [x(times[n] ?? 0), y(strip.value[n] ?? 0)])}
        fill="none"
        stroke="var(--quiet)"
        vectorEffect="non-scaling-stroke"
      />
      <path
        d={`M0,0H${start * WIDTH}V${HEIGHT}H0ZM${stop * WIDTH},0H${WIDTH}V${HEIGHT}H${stop * WIDTH}Z`}
        fill="var(--ground)"
        fillOpacity={0.6}
      />
      <rect
        {...held('all')}
        className={classes.stripPart}
        x={start * WIDTH}
        width={Math.max(4, (stop - start) * WIDTH)}
        height={HEIGHT}
        fill="var(--sea)"
        fillOpacity={0.12}
        stroke="var(--sea)"
        vectorEffect="non-scaling-stroke"
      />
      {(['start', 'stop'] as const).map((end) => (
        <rect
          key={end}
          {...held(end)}
          className={classes.stripEnd}
          x={(end === 'start' ? start : stop) * WIDTH - 5}
          width={10}
          height={HEIGHT}
          fill="var(--sea)"
          fillOpacity={0.35}
        />
      ))}
    </svg>
  )
}
