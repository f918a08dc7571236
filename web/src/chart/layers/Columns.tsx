import type { Geometry } from '../model/geometry.ts'
import { drawnLines } from '../model/overlays.ts'
import type { Chart } from '../model/types.ts'
import { Hatch, useHatch } from './context/Hatch.tsx'

/** Pixels of the widest column, and the share of a period's room that one takes. */
const WIDEST = 30
const SHARE = 0.68

/** Values as columns from zero; where a line splits them, the part above it is hatched. */
export function Columns({ chart, geometry }: { chart: Chart; geometry: Geometry }) {
  const { points, kpi } = chart
  const { times, x, y, room } = geometry
  const hatch = useHatch()
  const width = Math.max(1, Math.min(WIDEST, room * SHARE))
  const split = drawnLines(chart).find((line) => line.shaded)
  const opacity = kpi.faint ? 0.22 : 0.5
  const base = y(0)
  return (
    <g data-part="columns">
      <Hatch id={hatch} color="var(--ink)" opacity={opacity + 0.25} />
      {points.value.map((value, n) => {
        const at = x(times[n] ?? 0) - width / 2
        const above = split?.above?.[n] ?? 0
        const under = above > 0 ? (split?.under?.[n] ?? value) : value
        return (
          <g key={points.position[n]}>
            <Part x={at} width={width} from={base} to={y(under)} opacity={opacity} />
            {above > 0 && (
              <Part x={at} width={width} from={y(under)} to={y(value)} fill={`url(#${hatch})`} />
            )}
          </g>
        )
      })}
    </g>
  )
}

function Part({
  x,
  width,
  from,
  to,
  fill = 'var(--ink)',
  opacity = 1,
}: {
  x: number
  width: number
  from: number
  to: number
  fill?: string
  opacity?: number
}) {
  return (
    <rect
      x={x}
      width={width}
      y={Math.min(from, to)}
      height={Math.abs(from - to)}
      fill={fill}
      fillOpacity={opacity}
    />
  )
}
