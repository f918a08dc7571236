import { countedIn, valuesName } from '../../shared/numbers.ts'
import classes from '../Chart.module.css'
import type { AxisLabel, Geometry } from '../model/geometry.ts'
import { type Tick, ticksOf } from '../model/time.ts'
import type { Chart } from '../model/types.ts'
import { fitted, textWidth } from '../text/measure.ts'
import { type AxisActs, AxisHandle } from './AxisHandle.tsx'

function Levels({ labels, left }: { labels: AxisLabel[]; left: number }) {
  return (
    <g className={classes.axis}>
      {labels.map((label) => (
        <g key={label.at} transform={`translate(0,${label.at})`}>
          <text x={left - 8} dy="0.35em" textAnchor="end">
            {label.text}
          </text>
          <line x1={left - 5} x2={left} stroke="var(--hairline)" />
        </g>
      ))}
    </g>
  )
}

/** What a panel shows, over its axis; what there is no room for is told by its title. */
function PanelName({ text, room, y }: { text: string; room: number; y: number }) {
  return (
    <text className={classes.panelName} x={4} y={y}>
      {fitted(text, room)}
      <title>{text}</title>
    </text>
  )
}

export function Axes({
  chart,
  geometry,
  ...acts
}: AxisActs & {
  chart: Chart
  geometry: Geometry
}) {
  const { left, right, ranges, values, totals, bottom, x } = geometry
  const [start = 0, end = 0] = x.domain
  const unit = countedIn(chart.kpi.numbers)
  const ticks = ticksOf([start, end], right - left, {
    times: geometry.times,
    grain: chart.kpi.grain,
  })
  return (
    <>
      <PanelName text={valuesName(chart.kpi.numbers)} room={right - 8} y={values[0] - 8} />
      {geometry.hasRanges && (
        <PanelName text={`moving range${unit && `, ${unit}`}`} room={right - 8} y={ranges[0] - 8} />
      )}
      {totals && (
        <PanelName text={`total${unit && `, ${unit}`}`} room={right - 8} y={totals[0] - 8} />
      )}
      <Levels labels={geometry.valueLabels} left={left} />
      <AxisHandle geometry={geometry} {...acts} />
      <Levels labels={geometry.rangeLabels} left={left} />
      <Levels labels={geometry.totalLabels} left={left} />
      <line x1={left} x2={right} y1={bottom} y2={bottom} stroke="var(--hairline)" />
      <g className={classes.axis}>
        {ticks.map((tick) => (
          <TimeTick key={tick.time} tick={tick} geometry={geometry} />
        ))}
      </g>
    </>
  )
}

function TimeTick({ tick, geometry }: { tick: Tick; geometry: Geometry }) {
  const { x, bottom, width } = geometry
  const left = x(tick.time)
  const half = Math.max(textWidth(tick.label), textWidth(tick.year, 600)) / 2 + 1
  const middle = Math.min(Math.max(left, half), width - half)
  return (
    <g transform={`translate(0,${bottom})`} textAnchor="middle">
      <line x1={left} x2={left} y2={4} stroke="var(--quiet)" />
      {tick.label && (
        <text x={middle} y={16}>
          {tick.label}
        </text>
      )}
      {tick.year && (
        <text x={middle} y={tick.label ? 30 : 16} className={classes.year}>
          {tick.year}
        </text>
      )}
    </g>
  )
}
