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
