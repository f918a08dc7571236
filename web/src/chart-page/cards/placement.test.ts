import { expect, test } from 'vitest'
import { shared } from '../../chart/model/boxes.ts'
import { layOut } from '../../chart/model/geometry.ts'
import { line, chart as sample } from '../../chart/sample.test-data.ts'
import type { Card } from '../session/mode.ts'
import { aboutOf, placeCard, pointsOf } from './placement.ts'

const ALL = { average: true, limits: true, target: true }
/** Windows, and how much of each stands left of the chart. */
const WINDOWS = [
  { width: 360, height: 740, rail: 12 },
  { width: 390, height: 844, rail: 12 },
  { width: 820, height: 1180, rail: 30 },
  { width: 1280, height: 800, rail: 236 },
  { width: 1920, height: 1080, rail: 236 },
]
const KINDS = [
  'target',
  'line',
  'segment',
  'limit',
  'axis',
  'event',
  'pin',
  'candidate',
  'value',
] as const

/** Numbers from 0 to 1 that are the same in each run. */
function drawing(seed: number): () => number {
  let state = seed
  return () => {
    state = (state * 1_664_525 + 1_013_904_223) % 2 ** 32
    return state / 2 ** 32
  }
}

function drawn(seed: number) {
  const next = drawing(seed)
  const window = WINDOWS[seed % WINDOWS.length] ?? WINDOWS[0]
  const kind = KINDS[Math.floor(seed / WINDOWS.length) % KINDS.length] ?? 'line'
  if (!window) throw new Error('there is no window')
  const values = Array.from({ length: 12 + Math.floor(next() * 300) }, () => 4 + 8 * next())
  const level = 3 + 10 * next()
  // Half of the lines follow the values: a mean of those that a level would be of.
  const course = next() < 0.5 ? values.map((_, n) => 8 + 2 * Math.sin(n / 30)) : null
  const chart = {
    ...sample(values, 6),
    target_now: level,
    lines: [line('a', level, course ? { level: course.at(-1) ?? null, course } : {})],
  }
  const height = window.width < 620 ? 450 : Math.max(420, Math.min(640, window.height - 326))
  const geometry = layOut(chart, window.width - window.rail - 12, height, ALL)
  const n = Math.floor(next() * values.length)
  const x = geometry.x(geometry.times[n] ?? 0)
  const end = geometry.right + 8
  const at = {
    target: { x: end, y: geometry.y(level) },
    line: { x: end, y: geometry.y(course?.at(-1) ?? level) },
    limit: { x: end, y: geometry.y(7.66) },
    segment: { x: (geometry.left + geometry.right) / 2, y: geometry.lane[0] },
    axis: { x: geometry.left, y: (geometry.values[0] + geometry.values[1]) / 2 },
    value: { x, y: geometry.y(values[n] ?? 0) },
  }[kind as string] ?? { x, y: geometry.story[1] }
  const limit = kind === 'limit' ? { kind: 'segment', line: 'upper' } : {}
  const card = { kind, number: 1, position: n, ...at, ...limit } as unknown as Card
  const top = -60 + 300 * next()
  return {
    card,
    size: { width: 320, height: Math.min(400, 0.48 * window.height) * (0.3 + 0.7 * next()) },
    room: {
      x0: window.width - window.rail < 340 ? 8 - window.rail : 0,
      x1: window.width - 8 - window.rail,
      y0: 8 - top,
      y1: window.height - 8 - top,
    },
    about: aboutOf(card, chart, geometry, 'a'),
    points: pointsOf(chart, geometry),
  }
}

test('no card lies over what it is about, and all of each is in the window', () => {
  for (let seed = 0; seed < 240; seed += 1) {
    const { card, size, room, about, points } = drawn(seed)
    const { left, top, height } = placeCard(size, room, about, points, card)
    const box = { x0: left, y0: top, x1: left + size.width, y1: top + height }
    const told = `${seed}: ${card.kind}`
    expect(about.length, told).toBeGreaterThan(0)
    expect(
      about.filter((one) => shared(box, one) > 0),
      told,
    ).toEqual([])
    expect(left, told).toBeGreaterThanOrEqual(room.x0)
    expect(top, told).toBeGreaterThanOrEqual(room.y0)
    expect(box.x1, told).toBeLessThanOrEqual(room.x1)
    expect(box.y1, told).toBeLessThanOrEqual(room.y1)
  }
})

test('a card goes where the drawing is empty', () => {
  const room = { x0: 0, y0: 0, x1: 1000, y1: 600 }
  const points = Array.from({ length: 100 }, (_, n) => ({ x: 500 + 5 * n, y: 300 }))
  const at = { x: 480, y: 300 }
  const about = [{ x0: 470, x1: 490, y0: 290, y1: 310 }]
  const { left, top } = placeCard({ width: 300, height: 200 }, room, about, points, at)
  // To the left, beside it, where there is no point.
  expect(left + 300).toBeLessThan(471)
  expect(left + 300).toBeGreaterThan(450)
  expect(Math.abs(top + 100 - 300)).toBeLessThan(200)
})

test('a card that finds no free place is scrolled in a smaller one', () => {
  const room = { x0: 0, y0: 0, x1: 320, y1: 400 }
  const about = [{ x0: 0, x1: 320, y0: 170, y1: 380 }]
  const at = { x: 300, y: 200 }
  const { top, height } = placeCard({ width: 320, height: 200 }, room, about, [], at)
  expect(height).toBe(160)
  expect(top + height).toBeLessThanOrEqual(170)
  const none = [{ x0: 0, x1: 320, y0: 20, y1: 400 }]
  const least = placeCard({ width: 320, height: 200 }, room, none, [], at)
  expect([least.top, least.height]).toEqual([0, 80])
})
