// Where a card opens: clear of what it is about, over as little of the drawing as can be. Pure.
import { around, type Box, shared } from '../../chart/model/boxes.ts'
import type { Geometry } from '../../chart/model/geometry.ts'
import { marksOf } from '../../chart/model/markKinds.ts'
import type { Scale } from '../../chart/model/scale.ts'
import type { LineName } from '../../chart/model/tags.ts'
import type { Chart } from '../../chart/model/types.ts'
import type { Card } from '../session/mode.ts'

export interface Point {
  x: number
  y: number
}

/** Pixels from one place that is tried to the next. */
const STEP = 12
/** Pixels that stay free around what a card is about. */
const ROUND = 12
/** How many pixels further off a card may open for each point that it then leaves free. */
const PER_POINT = 8
/** As much as no card is off, and no drawing has points: what a card is about is covered last. */
const COVERED = 1e6

/** Shares of its height that a card is scrolled in, one after the other, where it covers its own. */
const HEIGHTS = [1, 0.8, 0.65, 0.5, 0.4]

interface Size {
  width: number
  height: number
}

/**
 * The place of a card of some size within a room, where it is in the way the least; and its height,
 * which is less than asked for where it would cover what it is about.
 */
export function placeCard(
  size: Size,
  room: Box,
  clear: readonly Box[],
  points: readonly Point[],
  at: Point,
): { left: number; top: number; height: number } {
  let found = {
    left: room.x0,
    top: room.y0,
    height: size.height,
    cost: Number.POSITIVE_INFINITY,
  }
  for (const share of HEIGHTS) {
    const height = Math.round(size.height * share)
    const next = bestPlace({ width: size.width, height }, room, clear, points, at)
    if (next.cost < found.cost) found = { ...next, height }
    if (found.cost < COVERED) break
  }
  return { left: found.left, top: found.top, height: found.height }
}

function bestPlace(
  size: Size,
  room: Box,
  clear: readonly Box[],
  points: readonly Point[],
  at: Point,
): { left: number; top: number; cost: number } {
  const within = points.filter(
    ({ x, y }) => x >= room.x0 && x <= room.x1 && y >= room.y0 && y <= room.y1,
  )
  let best = { left: room.x0, top: room.y0, cost: Number.POSITIVE_INFINITY }
  for (const left of steps(room.x0, room.x1 - size.width, at.x, size.width)) {
    const column = within.filter(({ x }) => x > left && x < left + size.width)
    for (const top of steps(room.y0, room.y1 - size.height, at.y, size.height)) {
      const card = { x0: left, y0: top, x1: left + size.width, y1: top + size.height }
      const over = clear.reduce((sum, box) => sum + shared(card, box), 0)
      const off = Math.hypot(beyond(at.x, left, card.x1), beyond(at.y, top, card.y1))
      const crowd = column.reduce((sum, { y }) => sum + (y > top && y < card.y1 ? 1 : 0), 0)
      const cost = (over > 0 ? COVERED + over : 0) + off + PER_POINT * crowd
      if (cost < best.cost) best = { left, top, cost }
    }
  }
  return best
}

/** Places to try: one right beside `at` on either side, and one every few pixels. */
function steps(from: number, to: number, at: number, length: number): number[] {
  const last = Math.max(from, to)
  const every = Array.from(
    { length: Math.floor((last - from) / STEP) + 1 },
    (_, n) => from + n * STEP,
  )
  const next = [at + ROUND + 1, at - ROUND - 1 - length].filter((one) => one >= from && one <= last)
  return [...every, ...next, last]
}

function beyond(at: number, from: number, to: number): number {
  return at < from ? from - at : at > to ? at - to : 0
}

/** What of a drawing a card is about: the point, the line, the tag that it must not cover. */
export function aboutOf(card: Card, chart: Chart, geometry: Geometry, lineKey: string): Box[] {
  const tag = near(card)
  switch (card.kind) {
    case 'target':
      return [
        toTheEdge(tag, geometry),
        ...across([chart.target_now, chart.target_high_now], geometry),
      ]
    case 'line':
      return [toTheEdge(tag, geometry), ...lineBoxes(chart, lineKey, geometry)]
    case 'band': {
      const { bottom, top } = card.draft
      return [tag, ...[bottom, top].flatMap((key) => lineBoxes(chart, key, geometry))]
    }
    case 'segment': {
      // Opened at the tag of its average or of a limit, it is about that line.
      if (card.line) {
        return [toTheEdge(tag, geometry), ...limitBoxes(chart, card.number, card.line, geometry)]
      }
      const span = geometry.spans.find(({ number }) => number === card.number)
      const [top, bottom] = geometry.lane
      return span ? [{ x0: span.x0, x1: span.x1, y0: top, y1: bottom }] : [tag]
    }
    case 'axis':
      return [{ x0: 0, x1: geometry.left, y0: geometry.values[0], y1: geometry.values[1] }]
    case 'rules':
      return [...marksOf(chart).values.keys()].flatMap((at) => pointAt(at, chart, geometry))
    case 'calendar':
      return [{ x0: geometry.left, x1: geometry.width, y0: geometry.lane[0], y1: geometry.lane[1] }]
    case 'value':
      return pointAt(card.position, chart, geometry)
    case 'event':
    case 'pin':
    case 'candidate':
      return [tag, ...nearest(card.x, chart, geometry).map(near)]
  }
}

/** The point at a position, where it is drawn. */
function pointAt(position: number, chart: Chart, geometry: Geometry): Box[] {
  const n = geometry.indexOf.get(position)
  const [time, value] = n === undefined ? [] : [geometry.times[n], chart.points.value[n]]
  if (time === undefined || value === undefined) return []
  return [near({ x: geometry.x(time), y: geometry.y(value) })]
}

/** The point of the day that a place below the plot stands for. */
function nearest(x: number, chart: Chart, geometry: Geometry): Point[] {
  const points = pointsOf(chart, geometry)
  const off = Math.min(...points.map((point) => Math.abs(point.x - x)))
  return points.filter((point) => Math.abs(point.x - x) === off).slice(0, 1)
}

/** What a card keeps off of a point, or of the tag that it was opened at. */
const near = ({ x, y }: Point): Box => around(x, y, ROUND)

/** A tag stands at the right of the plot, and reaches to the edge of the drawing. */
function toTheEdge(tag: Box, geometry: Geometry): Box {
  return { ...tag, x1: geometry.width }
}

function across(
  levels: readonly (number | null)[],
  geometry: Geometry,
  scale: Scale = geometry.y,
): Box[] {
  return levels
    .filter((level) => level !== null)
    .map((level) => {
      const y = scale(level)
      return { x0: geometry.left, x1: geometry.width, y0: y - 4, y1: y + 4 }
    })
}

/** A level is cleared across the plot; a line that has a course, where that is. */
function lineBoxes(chart: Chart, key: string, geometry: Geometry): Box[] {
  const line = chart.lines.find((line) => line.key === key)
  if (!line) return []
  if (!line.course) return across([line.level], geometry)
  return along(line.course, geometry, line.other_scale ? geometry.ty : geometry.y)
}

/** The average, or a limit, of a segment: along its course where it follows something. */
function limitBoxes(chart: Chart, number: number, name: LineName, geometry: Geometry): Box[] {
  const segment = chart.segments[number]
  const course = {
    average: chart.points.centre,
    upper: chart.points.upper,
    lower: chart.points.lower,
  }
  const followed = name in course ? course[name as keyof typeof course] : null
  if (followed) return along(followed, geometry, geometry.y)
  const levels: Partial<Record<LineName, number | null | undefined>> = {
    average: segment?.average,
    upper: segment?.upper,
    lower: segment?.lower,
  }
  const ranges: Partial<Record<LineName, number | null | undefined>> = {
    range_limit: segment?.range_limit,
    average_range: segment?.average_range,
  }
  return [
    ...across([levels[name] ?? null], geometry),
    ...across([ranges[name] ?? null], geometry, geometry.ry),
  ]
}

function along(course: readonly (number | null)[], geometry: Geometry, y: Scale): Box[] {
  return course.flatMap((level, n) => {
    const time = geometry.times[n]
    return level === null || time === undefined ? [] : [around(geometry.x(time), y(level), ROUND)]
  })
}

/** Where the points of a chart are drawn. */
export function pointsOf(chart: Chart, geometry: Geometry): Point[] {
  return chart.points.value.map((value, n) => ({
    x: geometry.x(geometry.times[n] ?? 0),
    y: geometry.y(value),
  }))
}
