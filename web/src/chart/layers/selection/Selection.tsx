import type { Geometry } from '../../model/geometry.ts'
import { timesOf } from '../../model/time.ts'
import type { Chart } from '../../model/types.ts'

export interface SelectedSpan {
  first: string
  last: string
}

/** The periods that are selected stand out: a veil lies over all the others, on both charts. */
export function Selection({
  chart,
  geometry,
  spans,
}: {
  chart: Chart
  geometry: Geometry
  spans: readonly SelectedSpan[]
}) {
  if (spans.length === 0) return null
  const { left, right, values, bottom } = geometry
  const top = values[0] - 10
  const boxes = spans.flatMap((span) => boxOf(span, chart, geometry) ?? [])
  const hole = ({ x0, x1 }: { x0: number; x1: number }) => `M${x0},${top}H${x1}V${bottom}H${x0}Z`
  return (
    <g data-on-screen data-part="selection" pointerEvents="none">
      <path
        d={`M${left},${top}H${right}V${bottom}H${left}Z${boxes.map(hole).join('')}`}
        fill="var(--ground)"
        fillOpacity={0.68}
        fillRule="evenodd"
      />
      {boxes.map(({ x0, x1 }) => (
        <path
          key={x0}
          d={`M${x0},${top}V${bottom}M${x1},${top}V${bottom}`}
          stroke="var(--ink)"
          strokeWidth={1.2}
        />
      ))}
    </g>
  )
}

/** Where a selection begins and ends, in pixels; null where none of it is shown. */
function boxOf({ first, last }: SelectedSpan, chart: Chart, { x, left, right, spacing }: Geometry) {
  const anchor = chart.points.period[0]
  if (!anchor) return null
  // Times are read on the clock of the first period shown.
  const [, from = 0, to = 0] = timesOf([anchor, first, last], chart.kpi.grain)
  const [x0, x1] = [Math.max(left, x(from) - spacing / 2), Math.min(right, x(to) + spacing / 2)]
  return x1 > x0 ? { x0, x1 } : null
}
