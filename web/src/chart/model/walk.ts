// Where the keys go among the points of a chart. Pure.
import type { Chart } from './types.ts'

/**
 * The position that a key leads to from the one that is chosen; null leaves the
 * points, undefined is for keys that are not for walking.
 */
export function walk(chart: Chart, chosen: number | null, key: string): number | null | undefined {
  const { position: positions } = chart.points
  const last = positions.length - 1
  const at = chosen === null ? last + 1 : positions.indexOf(chosen)
  const heads = chart.signals.flatMap((signal) => signal.points[0] ?? []).sort((a, b) => a - b)
  switch (key) {
    case 'ArrowRight':
      return positions[Math.min(at + 1, last)] ?? null
    case 'ArrowLeft':
      return positions[Math.max(at - 1, 0)] ?? null
    case 'Home':
      return positions[0] ?? null
    case 'End':
      return positions[last] ?? null
    case '.':
      return heads.find((head) => head > (chosen ?? -1)) ?? chosen
    case ',':
      return heads.findLast((head) => head < (chosen ?? Number.POSITIVE_INFINITY)) ?? chosen
    case 'Escape':
      return null
    default:
      return undefined
  }
}
