import type { KeyboardEvent } from 'react'
import classes from '../../Chart.module.css'
import { useDragAcross } from '../../gestures/useDragAcross.ts'
import { type Geometry, positionAt } from '../../model/geometry.ts'
import type { Chart } from '../../model/types.ts'

const STEPS: Record<string, -1 | 1> = { ArrowLeft: -1, ArrowRight: 1 }

/** The date that a hand moves to compare what is before it with what is after. */
export function Split({
  chart,
  geometry,
  at,
  onMove,
}: {
  chart: Chart
  geometry: Geometry
  at: number
  onMove: (position: number) => void
}) {
  const bind = useDragAcross<null>({
    onHold: () => true,
    onMove: (_, px) => {
      const position = positionAt(chart, geometry, px)
      if (position !== undefined && position !== at) onMove(position)
    },
    onDrop: () => undefined,
    onCancel: () => onMove(at),
  })
  const { x, times, spacing, values, bottom, indexOf } = geometry
  const index = indexOf.get(at)
  if (index === undefined) return null
  const left = x(times[index] ?? 0) - spacing / 2
  const period = chart.points.period[index] ?? ''
  function onKey(event: KeyboardEvent) {
    const by = STEPS[event.key]
    const to = by && chart.points.position[(index ?? 0) + by]
    if (!to) return
    event.preventDefault()
    event.stopPropagation()
    onMove(to)
  }
  return (
    <g
      {...bind(null)}
      data-on-screen
      role="slider"
      tabIndex={0}
      className={classes.handle}
      aria-label="Date to compare before and after"
      aria-valuenow={at}
      aria-valuemin={1}
      aria-valuemax={chart.count - 1}
      aria-valuetext={period}
      onKeyDown={onKey}
    >
      <path
        d={`M${left},${values[0] - 10}V${bottom}`}
        stroke="var(--ink)"
        strokeWidth={1.5}
        strokeDasharray="5 3"
      />
      <rect x={left - 8} y={values[0] - 10} width={16} height={bottom} fill="transparent" />
      <path
        className={classes.grip}
        d={`M${left - 7},${values[0] - 12}h14v9l-7,7l-7,-7Z`}
        fill="var(--ink)"
      />
    </g>
  )
}
