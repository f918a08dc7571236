import type { Geometry } from '../../model/geometry.ts'
import { COLORS, DASHES, linesApart, WEIGHTS } from '../../model/overlays.ts'
import { stepPath } from '../../model/path.ts'
import type { Chart } from '../../model/types.ts'

/** What is on another scale than the values, below them: how a sum grows, period by period. */
export function Totals({ chart, geometry }: { chart: Chart; geometry: Geometry }) {
  const { totals, times, x, ty, right, spacing } = geometry
  if (!totals) return null
  return (
    <g data-part="totals">
      {linesApart(chart).map((line) => (
        <path
          key={line.key}
          data-course={line.key}
          d={`${stepPath(times.length, (n) => {
            const height = line.course?.[n] ?? null
            return height === null ? null : [x(times[n] ?? 0) - spacing / 2, ty(height)]
          })}${line.course?.at(-1) == null ? '' : `H${right}`}`}
          fill="none"
          stroke={COLORS[line.color]}
          strokeWidth={WEIGHTS[line.weight]}
          strokeDasharray={DASHES[line.dash]}
        />
      ))}
    </g>
  )
}
