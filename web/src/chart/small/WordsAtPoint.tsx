import type { ReactNode } from 'react'

interface Props {
  x: number
  y: number
  /** How far from there it stands, to the right, or to the left where there is no room. */
  gap: number
  left: boolean
  weight?: 600 | 700
  children: ReactNode
}

/** A few words beside a point, which stay readable over what is drawn below them. */
export function WordsAtPoint({ x, y, gap, left, weight = 600, children }: Props) {
  return (
    <text
      x={x + (left ? -gap : gap)}
      y={y}
      textAnchor={left ? 'end' : 'start'}
      fontSize={11.5}
      fontWeight={weight}
      fill="var(--ink)"
      stroke="var(--card)"
      strokeWidth={3}
      paintOrder="stroke"
    >
      {children}
    </text>
  )
}
