import type { Geometry } from '../../model/geometry.ts'
import type { Chart } from '../../model/types.ts'

export interface Changed {
  new: number[]
  changed: number[]
  missing: number[]
}

/** Rings around the points that come in: full for new, open for changed, dotted for missing. */
export function Changes({
  chart,
  geometry,
  changes,
}: {
  chart: Chart
  geometry: Geometry
  changes: Changed
}) {
  const { times, x, y, indexOf } = geometry
  const ring = (position: number, name: keyof Changed) => {
    const n = indexOf.get(position)
    if (n === undefined) return null
    return (
      <circle
        key={`${name} ${position}`}
        data-change={name}
        cx={x(times[n] ?? 0)}
        cy={y(chart.points.value[n] ?? 0)}
        r={name === 'new' ? 5 : 7}
        fill={name === 'new' ? 'var(--sea)' : 'none'}
        stroke={name === 'missing' ? 'var(--quiet)' : 'var(--sea)'}
        strokeWidth={2}
        strokeDasharray={name === 'missing' ? '2 2.5' : undefined}
      />
    )
  }
  return (
    <g>
      {changes.missing.map((position) => ring(position, 'missing'))}
      {changes.changed.map((position) => ring(position, 'changed'))}
      {changes.new.map((position) => ring(position, 'new'))}
    </g>
  )
}
