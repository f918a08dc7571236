// Where the points of a small chart lie, and which of them the hairline reads.
import { describe, expect, it } from 'vitest'
import { commonReach, dayOf, dayTime, nearestTo, place, reachOf, type SmallChart } from './place.ts'

const chart = (value: number[], lower: number | null, upper: number | null) =>
  ({
    grain: 'week',
    period: ['2026-01-05', '2026-01-12', '2026-01-19'].slice(0, value.length),
    value,
    lower: null,
    upper: null,
    target: 40,
    target_high: null,
    segments: [{ average: 10, lower, upper }],
  }) as unknown as SmallChart

describe('a small chart', () => {
  it('reaches from the lowest to the highest of values and limits, and to its target if wanted', () => {
    expect(reachOf(chart([9, 12, 11], 5, 15))).toEqual([5, 15])
    expect(reachOf(chart([9, 30, 11], null, null))).toEqual([9, 30])
    expect(reachOf(chart([9], 5, 15), { target: true })).toEqual([5, 40])
    expect(commonReach([chart([9], 5, 15), chart([2], 6, 20)])).toEqual([2, 20])
    expect(commonReach([])).toBeNull()
  })

  it('places points by their dates within what is shown', () => {
    const domain = [dayTime('2026-01-05'), dayTime('2026-01-19')] as const
    const { x, y, times } = place(chart([5, 10, 15], 5, 15), { width: 110, height: 60 }, domain)
    expect(times.map(x)).toEqual([5, 55, 105])
    expect(y(10)).toBe(30)
    expect(y(15)).toBeGreaterThan(5)
    expect(dayOf(x.invert(55))).toBe('2026-01-12')
  })

  it('reads the point nearest in time, if one is near enough', () => {
    const times = [10, 20, 40]
    expect(nearestTo(times, 26)).toBe(1)
    expect(nearestTo(times, 100)).toBe(2)
    expect(nearestTo(times, 100, 20)).toBeUndefined()
    expect(nearestTo([], 5)).toBeUndefined()
  })
})
