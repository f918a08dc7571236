// The settings of a chart as they are sent back, with a part of them changed. Pure.
import type { Chart, SegmentSettings } from '../../data/chart.ts'

/** The decisions to keep limits as settings, but for the one at a period. */
export function keptLimitsBut(period: string, chart: Chart) {
  return chart.kept_limits
    .filter((kept) => kept.period !== period)
    .map(({ period, reason, review }) => ({ period, reason, review }))
}

/** The segments of a chart as settings, to change one and send them back. */
export function segmentSettings(chart: Chart): SegmentSettings[] {
  return chart.segments.map(
    ({ start, name, what_changed, centre, spread, window, follows, review }) => ({
      start,
      name,
      what_changed,
      centre,
      spread,
      window,
      follows,
      review,
    }),
  )
}

/** The segments with one of them changed, by its start; null where it has gone. */
export function segmentsBut(
  chart: Chart,
  start: string | null,
  changes: Partial<SegmentSettings>,
): SegmentSettings[] | null {
  if (!chart.segments.some((segment) => segment.start === start)) return null
  return segmentSettings(chart).map((segment) =>
    segment.start === start ? { ...segment, ...changes } : segment,
  )
}
