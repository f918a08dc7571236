// Where periods stand among the points of a chart. Pure.
import type { Chart } from './types.ts'

/** The position of a period; undefined where its point is not in view. */
export function positionOf({ points }: Pick<Chart, 'points'>, period: string): number | undefined {
  return points.position[points.period.indexOf(period)]
}

/** The positions in view of the periods from one to another, both among them. */
export function positionsWithin({ points }: Pick<Chart, 'points'>, first: string, last: string) {
  return points.position.filter((_, n) => {
    const period = points.period[n] ?? ''
    return first <= period && period <= last
  })
}
