import type { Geometry } from '../../model/geometry.ts'
import { Hatch, useHatch } from './Hatch.tsx'

const DAY = 86_400_000

/** The days on which a state of the world held, as hatched stripes behind the values. */
export function Stripes({
  spans,
  geometry,
}: {
  spans: readonly { first: string; last: string }[]
  geometry: Geometry
}) {
  const hatch = useHatch()
  if (spans.length === 0) return null
  const { x, left, right, values, bottom } = geometry
  const within = (px: number) => Math.max(left, Math.min(right, px))
  return (
    <g data-part="stripes">
      <Hatch id={hatch} color="var(--line-slate)" opacity={0.28} />
      {spans.map(({ first, last }) => {
        const [from, to] = [
          within(x(Date.parse(`${first}T00:00Z`))),
          within(x(Date.parse(`${last}T00:00Z`) + DAY)),
        ]
        return (
          to > from && (
            <rect
              key={first}
              x={from}
              width={Math.max(2, to - from)}
              y={values[0] - 10}
              height={bottom - values[0] + 10}
              fill={`url(#${hatch})`}
            />
          )
        )
      })}
    </g>
  )
}
