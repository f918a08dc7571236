import { describe, expect, it } from 'vitest'
import { longPeriod } from '../../shared/writing.ts'
import { chart, signal } from '../sample.test-data.ts'
import { layOut, nearest } from './geometry.ts'
import { placeLabels, spreadOut } from './labelPlacement.ts'
import { marksOf } from './markKinds.ts'
import { ticksOf, timesOf } from './time.ts'
import { walk } from './walk.ts'

const ALL = { average: true, limits: true, target: true }

describe('geometry', () => {
  const drawn = layOut(chart([10, 11, 9, 5, 6, 4], 3), 1000, 480, ALL)

  it('keeps every level inside its panel and the panels apart', () => {
    for (const level of [4, 11, 12.66, 2.34, 40]) {
      expect(drawn.y(level)).toBeGreaterThanOrEqual(drawn.values[0])
      expect(drawn.y(level)).toBeLessThanOrEqual(drawn.values[1])
    }
    expect(drawn.values[1]).toBeLessThan(drawn.lane[0])
    expect(drawn.lane[1]).toBeLessThan(drawn.ranges[0])
    expect(drawn.ranges[1]).toBeLessThan(480)
  })

  it('makes room only for the lines that are shown', () => {
    const without = layOut(chart([10, 11, 9, 5, 6, 4], 3), 1000, 480, { ...ALL, target: false })
    expect(without.y.domain[1]).toBeLessThan(20)
  })

  it('labels an axis with fewer numbers where they would touch', () => {
    for (const height of [700, 480, 260, 180, 140]) {
      const low = layOut(chart([10, 11, 9, 5, 6, 4], 3), 600, height, ALL)
      for (const labels of [low.valueLabels, low.rangeLabels]) {
        expect(labels.length, String(height)).toBeGreaterThan(0)
        const gaps = labels.slice(1).map(({ at }, n) => Math.abs(at - (labels[n]?.at ?? 0)))
        expect(Math.min(Infinity, ...gaps), String(height)).toBeGreaterThanOrEqual(12)
      }
    }
  })

  it('puts the border of two segments half way between their points', () => {
    const [before, after] = drawn.spans
    expect(before?.x1).toBeCloseTo(
      (drawn.x(drawn.times[2] ?? 0) + drawn.x(drawn.times[3] ?? 0)) / 2,
    )
    expect(after?.x0).toBe(before?.x1)
    expect([before?.x0, after?.x1]).toEqual([drawn.left, drawn.right])
  })

  it('finds the nearest point on either side of the middle', () => {
    const [a = 0, b = 0] = [drawn.x(drawn.times[1] ?? 0), drawn.x(drawn.times[2] ?? 0)]
    expect(nearest(drawn, a + (b - a) * 0.49)).toBe(1)
    expect(nearest(drawn, a + (b - a) * 0.51)).toBe(2)
    expect(nearest(drawn, -1e6)).toBe(0)
    expect(nearest(drawn, 1e6)).toBe(5)
    expect(nearest(layOut(chart([], 0), 1000, 480, ALL), 5)).toBeNull()
  })
})

describe('labels', () => {
  const bounds = { x0: 0, y0: 0, x1: 400, y1: 200 }
  const request = (key: string, x: number, y: number) => ({
    key,
    text: '25.1',
    x,
    y,
    clear: 9,
    color: '',
  })

  it('never cover a point or each other, and give way where nothing is free', () => {
    const points = Array.from({ length: 40 }, (_, n) => ({
      x0: n * 10 - 3,
      x1: n * 10 + 3,
      y0: 97,
      y1: 103,
    }))
    const wanted = Array.from({ length: 30 }, (_, n) => request(String(n), n * 12, 100))
    const placed = placeLabels(wanted, points, bounds)
    expect(placed.length).toBeGreaterThan(5)
    expect(placed.length).toBeLessThan(30)
    const boxes = [...points, ...placed.map((label) => label.box)]
    for (const { box } of placed) {
      const hits = boxes.filter(
        (b) => b !== box && box.x0 < b.x1 && b.x0 < box.x1 && box.y0 < b.y1 && b.y0 < box.y1,
      )
      expect(hits).toEqual([])
      expect(box.x0 >= 0 && box.x1 <= 400 && box.y0 >= 0 && box.y1 <= 200).toBe(true)
    }
  })

  it('spreads tags apart, in order, inside their room, and moves none that is free', () => {
    const spread = spreadOut([100, 104, 300, 99], 22, 10, 390)
    expect(spread[2]).toBe(300)
    const [first = 0, second = 0, third = 0] = [spread[3], spread[0], spread[1]]
    expect(second - first).toBeGreaterThanOrEqual(22)
    expect(third - second).toBeGreaterThanOrEqual(22)
    expect(spreadOut([2, 3], 22, 10, 390)).toEqual([10, 32])
    expect(spreadOut([389, 390], 22, 10, 390)).toEqual([368, 390])
  })
})

describe('marks', () => {
  it('gives a point that several rules flag the most telling shape', () => {
    const flagged = chart([1, 2, 3], 1)
    flagged.signals = [
      signal('near_limit', [0, 1]),
      signal('run', [1, 2]),
      signal('outside_limits', [2]),
      signal('six_trending', [0, 2]),
      signal('range_outside_limit', [1]),
    ]
    const marks = marksOf(flagged)
    expect([...marks.values].sort()).toEqual([
      [0, 'near'],
      [1, 'run'],
      [2, 'outside'],
    ])
    expect([...marks.ranges]).toEqual([[1, 'outside']])
  })
})

describe('walking', () => {
  const walked = chart([1, 2, 3, 4, 5, 6], 3)
  walked.points.position = [0, 2, 3, 5, 8, 9] // a thinned chart: not every position is drawn
  walked.signals = [signal('run', [3, 5]), signal('outside_limits', [8]), signal('run', [0])]

  it('goes along the points that are drawn and stops at the ends', () => {
    expect(walk(walked, 2, 'ArrowRight')).toBe(3)
    expect(walk(walked, 3, 'ArrowLeft')).toBe(2)
    expect(walk(walked, 9, 'ArrowRight')).toBe(9)
    expect(walk(walked, 0, 'ArrowLeft')).toBe(0)
    expect([walk(walked, 5, 'Home'), walk(walked, 5, 'End')]).toEqual([0, 9])
  })

  it('starts at the newest point', () => {
    expect(walk(walked, null, 'ArrowLeft')).toBe(9)
    expect(walk(walked, null, 'ArrowRight')).toBe(9)
    expect(walk(chart([], 0), null, 'ArrowLeft')).toBeNull()
  })

  it('jumps between signals in order of time, and stays at the last', () => {
    const way = [null, 0, 3, 8].map((from) => walk(walked, from, '.'))
    expect(way).toEqual([0, 3, 8, 8])
    expect(walk(walked, 8, ',')).toBe(3)
    expect(walk(walked, null, ',')).toBe(8)
  })

  it('leaves other keys alone', () => {
    expect(walk(walked, 2, 'Escape')).toBeNull()
    expect(walk(walked, 2, 'x')).toBeUndefined()
  })
})

describe('time', () => {
  it('keeps the hours around a clock change an hour apart', () => {
    const times = timesOf(
      ['2026-10-25T00:00+01:00', '2026-10-25T01:00+01:00', '2026-10-25T01:00+00:00'],
      'hour',
    )
    expect(times.map((time) => new Date(time).toISOString().slice(11, 16))).toEqual([
      '00:00',
      '01:00',
      '02:00',
    ])
  })

  it('names the year once, where it begins', () => {
    const ticks = ticksOf([Date.UTC(2025, 9, 6), Date.UTC(2026, 10, 9)], 880)
    expect(ticks.filter((tick) => tick.year).map((tick) => tick.year)).toEqual(['2025', '2026'])
    expect(ticks.length).toBeLessThan(15)
    expect(ticksOf([5, 5], 880)).toEqual([])
    expect(ticks.find((tick) => new Date(tick.time).getUTCMonth() === 8)?.label).toBe('Sep')
  })

  it('writes hours, days, months or years alone, as the stretch asks', () => {
    const start = Date.UTC(2026, 4, 18)
    const label = (hours: number) => ticksOf([start, start + hours * 3_600_000], 600)[1]?.label
    expect(label(24)).toMatch(/^\d\d:00$/)
    expect(label(24 * 20)).toMatch(/^\d+ May$/)
    expect(label(24 * 300)).toMatch(/^[A-Z][a-z]{2}$/)
    expect(label(24 * 365 * 9)).toBe('')
  })
})

describe('words', () => {
  it('names periods by their grain', () => {
    expect(longPeriod('2026-05-18', 'week')).toBe('Week of 18 May 2026')
    expect(longPeriod('2026-05-18T14:00+01:00', 'hour')).toBe('18 May 2026, 14:00')
    expect(longPeriod('2026-04-01', 'quarter')).toBe('Q2 2026')
  })
})
