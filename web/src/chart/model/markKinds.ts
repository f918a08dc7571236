// Which shape a rule's points get: told apart by shape first, color second.
import type { Chart, Signal } from './types.ts'

export type MarkKind = Signal['mark']

export const MARK_COLOR: Record<MarkKind, string> = {
  outside: 'var(--mark-outside)',
  run: 'var(--mark-run)',
  near: 'var(--mark-near)',
  extended: 'var(--mark-extended)',
}

/** A point that several rules flag wears the first of these. */
const ORDER: MarkKind[] = ['outside', 'run', 'near', 'extended']

export interface Marks {
  values: Map<number, MarkKind>
  ranges: Map<number, MarkKind>
}

/** Successive flagged points that are drawn as one: indexes of the first and the last. */
export interface Stretch {
  kind: MarkKind
  first: number
  last: number
}

/** So many in a row are one mark with a count, rather than a mark each. */
const MANY = 12
/** The same where points are too close for their marks to be told apart. */
const MANY_WHEN_CLOSE = 4

/** The long stretches of points on one side that wear one mark, among the points that are drawn. */
export function stretchesOf(
  { position: positions, distance }: Chart['points'],
  kinds: Map<number, MarkKind>,
  close: boolean,
): Stretch[] {
  const stretches: Stretch[] = []
  const side = (n: number) => Math.sign(distance[n] ?? 0)
  let first = 0
  for (let n = 1; n <= positions.length; n++) {
    const kind = kinds.get(positions[first] ?? -1)
    const alike = kinds.get(positions[n] ?? -1) === kind && side(n) === side(first)
    if (n < positions.length && alike) continue
    if (kind && n - first >= (close ? MANY_WHEN_CLOSE : MANY))
      stretches.push({ kind, first, last: n - 1 })
    first = n
  }
  return stretches
}

/** The mark of each flagged position, on the X chart and on the moving range chart. */
export function marksOf(chart: Chart): Marks {
  const marks: Marks = { values: new Map(), ranges: new Map() }
  for (const signal of chart.signals) {
    const among = signal.judges === 'ranges' ? marks.ranges : marks.values
    for (const point of signal.points) {
      const before = among.get(point)
      if (!before || ORDER.indexOf(signal.mark) < ORDER.indexOf(before))
        among.set(point, signal.mark)
    }
  }
  return marks
}
