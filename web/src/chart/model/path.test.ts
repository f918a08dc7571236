// From numbers to pixels, and from points to lines.
import { describe, expect, it } from 'vitest'
import { areaPath, linePath, stepPath } from './path.ts'
import { linear } from './scale.ts'

describe('a scale', () => {
  it('places its domain on its range, upside down too, and comes back', () => {
    const y = linear([10, 30], [200, 0])
    expect([y(10), y(20), y(30), y(40)]).toEqual([200, 100, 0, -100])
    expect(y.invert(y(17.25))).toBeCloseTo(17.25, 12)
    expect(y.ticks(4)).toEqual([10, 15, 20, 25, 30])
  })

  it('puts all of an empty domain in the middle', () => {
    expect(linear([5, 5], [0, 100])(5)).toBe(50)
  })
})

describe('a line', () => {
  const values = [1, 2, null, 4, null, 6, 7]
  const pointAt = (n: number) => {
    const value = values[n]
    return value == null ? null : ([n, value] as const)
  }

  it('is broken where there is no point, and a point alone is a dot', () => {
    expect(linePath(values.length, pointAt)).toBe('M0,1L1,2M3,4ZM5,6L6,7')
    expect(linePath(0, pointAt)).toBe('')
  })

  it('in steps keeps its level up to the next point', () => {
    expect(stepPath(values.length, pointAt)).toBe('M0,1H1V2M3,4M5,6H6V7')
  })

  it('encloses an area with the one under it, stretch by stretch', () => {
    const between = (n: number) => (n === 2 ? null : { x: n, low: 0, high: n + 1 })
    expect(areaPath(4, between)).toBe('M0,1L1,2L1,0L0,0ZM3,4L3,0Z')
  })
})
