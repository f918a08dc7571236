import { type ReactNode, useId } from 'react'
import type { Geometry } from '../model/geometry.ts'

/** What a fixed axis cuts off at its ends; an automatic one shows everything. */
export function Plot({ geometry, children }: { geometry: Geometry; children: ReactNode }) {
  const clip = useId()
  if (!geometry.fixed) return <g>{children}</g>
  const { left, right, values, ranges } = geometry
  return (
    <g clipPath={`url(#${clip})`}>
      <clipPath id={clip}>
        <rect x={left} width={right - left} y={values[0]} height={values[1] - values[0]} />
        <rect
          x={left}
          width={right - left}
          y={ranges[0] - 8}
          height={Math.max(0, ranges[1] - ranges[0] + 16)}
        />
      </clipPath>
      {children}
    </g>
  )
}
