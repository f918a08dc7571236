// Which shape a rule's points get: told apart by shape first, color second.
import type { Chart, Signal } from './types.ts'

export type MarkKind = 'outside' | 'run' | 'near' | 'extended'

export const MARK_COLOR: Record<MarkKind, string> = {
  outside: 'var(--mark-outside)',
  run: 'var(--mark-run)',
  near: 'var(--mark-near)',
  extended: 'var(--mark-extended)',
}

const KINDS: Partial<Record<Signal['rule'], MarkKind>> = {
  outside_limits: 'outside',
  range_outside_limit: 'outside',
  run: 'run',
  near_limit: 'near',
}

/** A point that several rules flag wears the first of these. */
const ORDER: MarkKind[] = ['outside', 'run', 'near', 'extended']

export function markOf(rule: Signal['rule']): MarkKind {
  return KINDS[rule] ?? 'extended'
}

export interface Marks {
  values: Map<number, MarkKind>
  ranges: Map<number, MarkKind>
}

/** The mark of each flagged position, on the X chart and on the moving range chart. */
export function marksOf(chart: Chart): Marks {
  const marks: Marks = { values: new Map(), ranges: new Map() }
  for (const signal of chart.signals) {
    const kind = markOf(signal.rule)
    const own = signal.rule === 'range_outside_limit' ? marks.ranges : marks.values
    for (const point of signal.points) {
      const before = own.get(point)
      if (!before || ORDER.indexOf(kind) < ORDER.indexOf(before)) own.set(point, kind)
    }
  }
  return marks
}
