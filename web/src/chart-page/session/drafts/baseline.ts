// A baseline that is being chosen for a segment. Pure.
import type { Chart } from '../../data/chart.ts'

/** A limit window in the hand: the positions of its first and its last point. */
export interface Window {
  first: number
  last: number
}

export interface BaselineDraft extends Window {
  start: string | null
  /** What the limits come from now; its ends may lie outside the dates shown. */
  now: NonNullable<Chart['segments'][number]['basis']>
}

/** A baseline to choose for a segment, from the one it has or all of it; null where none can be. */
export function baselineOf(chart: Chart, number: number): BaselineDraft | null {
  const segment = chart.segments[number]
  if (!segment?.basis) return null
  const { first, last } = segment.basis
  return { start: segment.start, first, last, now: segment.basis }
}

/** The first and the last period of a baseline. */
export function windowOf(chart: Chart, { first, last, now }: BaselineDraft): [string, string] {
  const { position, period } = chart.points
  const known = new Map([
    [now.first, now.first_period],
    [now.last, now.last_period],
  ])
  const name = (path: number) => known.get(path) ?? period[position.indexOf(path)] ?? ''
  return [name(first), name(last)]
}

/** How many values of a baseline take part: not those set aside, nor a last one that still runs. */
export function takingPart({ set_aside, incomplete }: Chart, { first, last }: Window): number {
  const without = new Set(set_aside.map(({ position }) => position))
  if (incomplete !== null) without.add(incomplete)
  const out = [...without].filter((position) => first <= position && position <= last).length
  return last - first + 1 - out
}
