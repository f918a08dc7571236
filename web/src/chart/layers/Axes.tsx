import { formatNumber } from '../../shared/writing.ts'
import classes from '../Chart.module.css'
import type { Geometry } from '../model/geometry.ts'
import { type Tick, ticksOf } from '../model/time.ts'

function Levels({ scale, left, count }: { scale: Geometry['y']; left: number; count: number }) {
  const ticks = scale.ticks(count)
  // As many decimals as tell the ticks apart, whatever the KPI's own are.
  const step = Math.abs((ticks[1] ?? 1) - (ticks[0] ?? 0))
  const decimals = Math.max(0, Math.ceil(-Math.log10(step) - 1e-9))
  return (
    <g className={classes.axis}>
      {ticks.map((tick) => (
        <g key={tick} transform={`translate(0,${scale(tick)})`}>
          <text x={left - 8} dy="0.35em" textAnchor="end">
            {formatNumber(tick, decimals)}
          </text>
          <line x1={left - 5} x2={left} stroke="var(--hairline)" />
        </g>
      ))}
    </g>
  )
}

interface Props {
  geometry: Geometry
  unit: string
}

export function Axes({ geometry, unit }: Props) {
  const { left, right, ranges, values, x } = geometry
  const [start = 0, end = 0] = x.domain
  const ticks = ticksOf([start, end], right - left)
  return (
    <>
      <text className={classes.panelName} x={4} y={values[0] - 8}>
        {unit || 'value'}
      </text>
      <text className={classes.panelName} x={4} y={ranges[0] - 8}>
        moving range{unit && `, ${unit}`}
      </text>
      <Levels scale={geometry.y} left={left} count={geometry.narrow ? 4 : 6} />
      <Levels scale={geometry.ry} left={left} count={3} />
      <line x1={left} x2={right} y1={ranges[1]} y2={ranges[1]} stroke="var(--hairline)" />
      <g className={classes.axis}>
        {ticks.map((tick, n) => (
          <TimeTick key={tick.time} tick={tick} first={n === 0} geometry={geometry} />
        ))}
      </g>
    </>
  )
}

function TimeTick({ tick, first, geometry }: { tick: Tick; first: boolean; geometry: Geometry }) {
  const { x, ranges, left } = geometry
  const place = first ? Math.max(x(tick.time), left + 14) : x(tick.time)
  return (
    <g transform={`translate(${place},${ranges[1]})`} textAnchor="middle">
      <line y2={4} stroke="var(--quiet)" />
      {tick.label && <text y={16}>{tick.label}</text>}
      {tick.year && (
        <text y={tick.label ? 30 : 16} className={classes.year}>
          {tick.year}
        </text>
      )}
    </g>
  )
}
