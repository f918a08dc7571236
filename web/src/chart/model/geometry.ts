// Where everything of a chart goes. Pure: a chart and a size in, scales and places out.
import { extent } from 'd3-array'
import { tickText } from '../../shared/numbers.ts'
import { textWidth } from '../text/measure.ts'
import { levelsOfLines, linesApart, linesOutside } from './overlays.ts'
import { linear, type Scale } from './scale.ts'
import { tagRoom, tagTexts } from './tags.ts'
import { LENGTH, timesOf } from './time.ts'
import type { Chart, Line, Segment, Shown } from './types.ts'

export const NARROW = 620
export const LANE_HEIGHT = 22
/** Room for events below the segments of the lane. */
export const STORY_HEIGHT = 22

const AXIS_HEIGHT = 36
const HEAD = 20
const GAP = 14
const RANGE_SHARE = 0.27
const TOTALS_SHARE = 0.16

export interface AxisLabel {
  at: number
  text: string
}

export interface Span {
  segment: Segment
  number: number
  x0: number
  x1: number
}

export interface Geometry {
  width: number
  height: number
  left: number
  right: number
  /** Panels, top and bottom of each. */
  values: [number, number]
  lane: [number, number]
  story: [number, number]
  ranges: [number, number]
  x: Scale
  y: Scale
  ry: Scale
  /** What stands beside the axes of both panels. */
  valueLabels: AxisLabel[]
  rangeLabels: AxisLabel[]
  /** The panel of what is on another scale than the values; null where nothing is. */
  totals: [number, number] | null
  ty: Scale
  totalLabels: AxisLabel[]
  /** Where the lowest panel ends, and the dates stand below it. */
  bottom: number
  /** Whether the moving ranges are drawn. */
  hasRanges: boolean
  times: number[]
  /** Pixels from one period to the next. */
  spacing: number
  /** Pixels that a point has on average: as much, unless values come irregularly. */
  room: number
  spans: Span[]
  /** Those of the chart as it is kept, where another is previewed over it. */
  keptSpans: Span[]
  /** Index among the drawn points, by position in the series. */
  indexOf: Map<number, number>
  narrow: boolean
  /** Lines that the axis does not reach, and whether they are above it. */
  outside: { line: Line; above: boolean }[]
  /** Whether the axis is fixed, so that values may lie outside of the plot. */
  fixed: boolean
}

/** Where everything of a chart goes. Long as one pass: each part takes the room that the one before has left. */
export function layOut(
  chart: Chart,
  width: number,
  height: number,
  shown: Shown,
  kept: Chart | null = null,
  brought: readonly string[] = [],
): Geometry {
  const { points, kpi } = chart
  const narrow = width < NARROW
  const times = timesOf(points.period, kpi.grain)
  const half = LENGTH[kpi.grain] / 2
  const first = times[0] ?? 0
  const last = times.at(-1) ?? first

  const apart = linesApart(chart)
  const between = HEAD + GAP
  const all = height - HEAD - GAP - LANE_HEIGHT - STORY_HEIGHT - GAP - HEAD - AXIS_HEIGHT
  const totalsHeight = apart.length > 0 ? Math.round(all * TOTALS_SHARE) : 0
  const free = apart.length > 0 ? all - totalsHeight - between : all
  // A value that holds until it changes has no moving ranges to speak of.
  const hasRanges = kpi.drawn_as !== 'steps'
  const rangeHeight = hasRanges ? Math.round(free * RANGE_SHARE) : 0
  const values: [number, number] = [HEAD, HEAD + free - rangeHeight]
  const lane: [number, number] = [values[1] + GAP, values[1] + GAP + LANE_HEIGHT]
  const story: [number, number] = [lane[1], lane[1] + STORY_HEIGHT]
  const ranges: [number, number] = [
    story[1] + GAP + HEAD - 4,
    story[1] + GAP + HEAD - 4 + rangeHeight,
  ]
  const totals: [number, number] | null =
    apart.length > 0 ? [ranges[1] + between, ranges[1] + between + totalsHeight] : null

  const both = kept ? [chart, kept] : [chart]
  const levels = [
    ...points.value,
    ...(shown.target
      ? [
          chart.target_now,
          chart.target_high_now,
          ...(chart.targets ?? []),
          ...(chart.targets_high ?? []),
        ]
      : []),
    // A column stands on zero, or its length would say nothing.
    ...(kpi.drawn_as === 'columns' ? [0] : []),
    ...both.flatMap((drawn) => levelsOf(drawn, shown)),
  ].filter((level) => level !== null)
  const rangeLevels = [
    ...points.moving_range,
    ...both.flatMap((drawn) => visibleOf(drawn).map((s) => s.range_limit)),
  ].filter((level) => level !== null)
  const [low = 0, high = 1] = extent(levels)
  const automatic = padded([...levels, ...levelsOfLines(chart, [low, high], brought)], 0.07)
  if (kpi.drawn_as === 'columns' && Math.min(...levels) >= 0) automatic[0] = 0
  const domain = fixedTo(automatic, chart.axis)
  const y = linear(domain, [values[1], values[0]])
  const ry = linear([0, padded(rangeLevels, 0.1)[1]], [ranges[1], ranges[0]])
  const ty = linear(
    padded(
      [0, ...apart.flatMap((line) => line.course ?? [])].filter((level) => level !== null),
      0.08,
    ),
    totals ? [totals[1], totals[0]] : [0, 1],
  )
  const axes = [
    labelsOf(y, narrow ? 4 : 6, kpi.numbers),
    labelsOf(ry, 3, kpi.numbers),
    totals ? labelsOf(ty, 2, kpi.numbers) : [],
  ] satisfies AxisLabel[][]
  const widest = Math.max(0, ...axes.flat().map((label) => textWidth(label.text)))
  const left = Math.min(width * 0.3, Math.max(narrow ? 30 : 40, widest + 14))
  const right = width - tagRoom(tagTexts(chart, shown), width, narrow) - (narrow ? 4 : 9)
  const x = linear([first - half, last + half], [left, right])
  const spacing = x(first + 2 * half) - x(first)
  const indexOf = new Map(points.position.map((position, index) => [position, index]))
  const spansOf = (drawn: Chart) =>
    visibleOf(drawn).map((segment) => {
      const { segments } = drawn
      const start = times[indexOf.get(segment.first) ?? -1]
      const after = segments[segments.indexOf(segment) + 1]
      const end = after && times[indexOf.get(after.first) ?? -1]
      return {
        segment,
        number: segments.indexOf(segment),
        x0: start === undefined || segment.first === 0 ? left : Math.max(left, x(start - half)),
        x1: end === undefined ? right : Math.min(right, x(end - half)),
      }
    })
  return {
    width,
    height,
    left,
    right,
    values,
    lane,
    story,
    ranges,
    x,
    y,
    ry,
    valueLabels: axes[0] ?? [],
    rangeLabels: hasRanges ? (axes[1] ?? []) : [],
    totals,
    ty,
    totalLabels: axes[2] ?? [],
    bottom: totals ? totals[1] : ranges[1],
    hasRanges,
    times,
    spacing,
    room: Math.max(spacing, (right - left) / Math.max(1, times.length)),
    spans: spansOf(chart),
    keptSpans: kept ? spansOf(kept) : [],
    indexOf,
    narrow,
    outside: linesOutside(chart, domain),
    fixed: chart.axis.low !== null || chart.axis.high !== null,
  }
}

/** An axis with the ends that are fixed; an end that is not gives way, so that there is an axis. */
function fixedTo([low, high]: [number, number], axis: Chart['axis']): [number, number] {
  const [bottom, top] = [axis.low ?? low, axis.high ?? high]
  if (bottom < top) return [bottom, top]
  const room = Math.abs(bottom || top) || 1
  return axis.low === null ? [top - room, top] : [bottom, bottom + room]
}

/** Pixels that a label of an axis takes of its height. */
const LABEL = 12

function labelsOf(scale: Scale, count: number, numbers: Chart['kpi']['numbers']): AxisLabel[] {
  let ticks = scale.ticks(count)
  // Fewer where they would touch: a low plot is drawn large in a meeting.
  for (let fewer = count - 1; fewer > 0; fewer--) {
    const [first, second] = ticks
    if (first === undefined || second === undefined) break
    if (Math.abs(scale(second) - scale(first)) >= LABEL) break
    ticks = scale.ticks(fewer)
  }
  const step = (ticks[1] ?? 1) - (ticks[0] ?? 0)
  return ticks.map((tick) => ({ at: scale(tick), text: tickText(tick, step, numbers) }))
}

function visibleOf({ segments, shown }: Chart): Segment[] {
  return segments.filter(
    (segment) => segment.stop > (shown[0] ?? 0) && segment.first < (shown[1] ?? 0),
  )
}

/** The averages and limits that are drawn of a chart. */
function levelsOf(chart: Chart, shown: Shown): (number | null)[] {
  const { centre, upper, lower } = chart.points
  const visible = visibleOf(chart)
  return [
    ...(shown.average ? (centre ?? visible.map((segment) => segment.average)) : []),
    ...(shown.limits
      ? upper && lower
        ? [...upper, ...lower]
        : visible.flatMap((segment) => [segment.upper, segment.lower])
      : []),
  ]
}

function padded(levels: number[], share: number): [number, number] {
  const [low = 0, high = 1] = extent(levels)
  const room = (high - low) * share || Math.abs(high) * share || 1
  return [low - room, high + room]
}

/** The position in the series of the drawn point nearest to a place on the x axis. */
export function positionAt(chart: Chart, geometry: Geometry, px: number): number | undefined {
  const index = nearest(geometry, px)
  return index === null ? undefined : chart.points.position[index]
}

/** The drawn point nearest to a place on the x axis. */
export function nearest(geometry: Geometry, px: number): number | null {
  const { times, x } = geometry
  if (times.length === 0) return null
  const time = x.invert(px)
  let low = 0
  let high = times.length - 1
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if ((times[middle] ?? 0) < time) low = middle
    else high = middle
  }
  return time - (times[low] ?? 0) < (times[high] ?? 0) - time ? low : high
}
