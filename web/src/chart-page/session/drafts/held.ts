// What of a chart is previewed because of what is in the hand. Pure.
import type { Chart } from '../../data/chart.ts'
import type { Previewed } from '../../data/preview.ts'
import type { Held } from '../mode.ts'
import { windowOf } from './baseline.ts'
import { linesWith } from './line.ts'
import { segmentsBut } from './settings.ts'
import { segmentsWith } from './shift.ts'

/** The settings that what is in the hand stands for; null where they cannot be. */
export function heldSettings(chart: Chart, held: Held | null): Previewed | null {
  switch (held?.kind) {
    case 'shift': {
      // Without its name, which changes no number: typing it asks for no new preview.
      const segments = segmentsWith(chart, { ...held.draft, name: '', what_changed: '' })
      return segments && { segments }
    }
    case 'baseline': {
      const window = windowOf(chart, held.draft)
      const segments = segmentsBut(chart, held.draft.start, { window })
      return segments && { segments }
    }
    case 'aside':
      return { aside: { [held.draft.period]: held.draft.back ? null : 'to be set aside' } }
    case 'line':
      return { lines: linesWith(chart, held.draft) }
    case 'settings':
      return held.changes
    case undefined:
      return null
  }
}

/** The segment that begins with a shift in the hand; -1 where the preview is a step behind it. */
export function heldSegment(chart: Chart, previewed: Chart): number {
  return previewed.segments.findIndex(
    (segment) => !chart.segments.some((kept) => kept.start === segment.start),
  )
}

/** The segments, first and last, whose limits are previewed; null where none are. */
export function heldSpan(chart: Chart, previewed: Chart, held: Held): [number, number] | null {
  const { segments } = previewed
  if (held.kind === 'line' || held.kind === 'settings') return null
  if (held.kind === 'shift') {
    const number = heldSegment(chart, previewed)
    return number > 0 ? [number - 1, segments.length - 1] : null
  }
  const at =
    held.kind === 'aside'
      ? segments.findLastIndex((segment) => segment.first <= held.draft.position)
      : segments.findIndex((segment) => segment.start === held.draft.start)
  return [at, at]
}
