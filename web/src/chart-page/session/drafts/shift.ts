// A shift in the hand, and the segments it stands for. Pure.
import type { Chart, Review, SegmentSettings } from '../../data/chart.ts'
import { segmentSettings } from './settings.ts'

/** A shift in the hand: a new one, or an existing one on its way elsewhere. */
export interface ShiftDraft {
  /** Start of the segment that is being moved; null for a new shift. */
  from: string | null
  position: number
  period: string
  name: string
  what_changed: string
  /** Answers to the questions of the shift review. */
  review: Review
}

/** The segments as they would be with the draft; null where two would share a period. */
export function segmentsWith(chart: Chart, draft: ShiftDraft): SegmentSettings[] | null {
  const saved = segmentSettings(chart)
  const moved = saved.find((segment) => segment.start !== null && segment.start === draft.from)
  const others = saved
    .filter((segment) => segment !== moved)
    .map((segment) => (reaches(segment, draft.period) ? { ...segment, window: null } : segment))
  if (others.some((segment) => segment.start === draft.period)) return null
  const { period: start, name, what_changed, review } = draft
  // Its name and its reasons are changed in its card; a move only moves it.
  const placed: SegmentSettings = moved
    ? { ...moved, start }
    : { start, name, what_changed, review, centre: 'mean', spread: 'mean_range', follows: 'level' }
  const time = ({ start }: SegmentSettings) =>
    start === null ? Number.NEGATIVE_INFINITY : Date.parse(start)
  return [...others, placed].sort((a, b) => (time(a) < time(b) ? -1 : 1))
}

/** Whether the baseline of the segment before a shift would reach past it. */
function reaches({ start, window }: SegmentSettings, period: string): boolean {
  const at = Date.parse(period)
  return !!window && (start === null || Date.parse(start) < at) && Date.parse(window[1] ?? '') >= at
}

function periodAt({ points }: Chart, position: number): string | undefined {
  return points.period[points.position.indexOf(position)]
}

/** A new shift at a point; null where there is no room for one. */
export function newShift(
  chart: Chart,
  position: number,
  known: Partial<ShiftDraft> = {},
): ShiftDraft | null {
  const period = periodAt(chart, position)
  if (!period || position === 0 || chart.segments.some((segment) => segment.first === position))
    return null
  return { from: null, position, period, name: '', what_changed: '', review: {}, ...known }
}

/** The shift that a segment begins with, by its number; null for the first segment. */
export function shiftOf(chart: Chart, number: number): ShiftDraft | null {
  const segment = chart.segments[number]
  if (!segment || segment.start === null) return null
  return {
    from: segment.start,
    position: segment.first,
    period: segment.start,
    name: segment.name,
    what_changed: segment.what_changed,
    review: segment.review,
  }
}

/** The draft at a drawn point; as it is where that has no room, or is where it is. */
export function shiftAt(chart: Chart, draft: ShiftDraft, position: number): ShiftDraft {
  const period = periodAt(chart, position)
  return !position || !period || position === draft.position
    ? draft
    : { ...draft, position, period }
}

/** The draft at the next drawn point in a direction that has room for a shift. */
export function shiftStepped(chart: Chart, draft: ShiftDraft, by: -1 | 1): ShiftDraft {
  const { position: positions } = chart.points
  const taken = takenPositions(chart, draft.from)
  let index = positions.indexOf(draft.position) + by
  while (positions[index] !== undefined && taken.has(positions[index] ?? -1)) index += by
  return shiftAt(chart, draft, positions[index] ?? 0)
}

/** The draft at the first drawn point of a date or later that has room for a shift. */
export function shiftOnDate(chart: Chart, draft: ShiftDraft, date: string): ShiftDraft {
  const { position: positions, period: periods } = chart.points
  const taken = takenPositions(chart)
  const index = periods.findIndex((period, n) => period >= date && !taken.has(positions[n] ?? 0))
  return shiftAt(chart, draft, positions[index] ?? 0)
}

/** Where segments begin, but for one that is on its way elsewhere. */
function takenPositions(chart: Chart, but?: string | null): Set<number> {
  return new Set(
    chart.segments
      .filter((segment) => but === undefined || but === null || segment.start !== but)
      .map((segment) => segment.first),
  )
}
