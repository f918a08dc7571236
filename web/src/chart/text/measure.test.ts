import { describe, expect, it } from 'vitest'
import { fitted, shortest, textWidth } from './measure.ts'

describe('the width of a text', () => {
  it('grows with its characters, its size and its weight', () => {
    expect(textWidth('')).toBe(0)
    expect(textWidth('Average')).toBeGreaterThan(textWidth('Aver'))
    expect(textWidth('Average', 700)).toBeGreaterThan(textWidth('Average'))
    expect(textWidth('Average', 400, 23)).toBeCloseTo(2 * textWidth('Average'))
    // Digits stand in columns, whatever their weight.
    expect(textWidth('1111')).toBeCloseTo(textWidth('8888', 700))
    expect(textWidth('渡船待ち')).toBeCloseTo(4 * 11.5)
  })

  it('is never more than the room, with what is left out said', () => {
    const name = 'Vehicles left behind at Holmsand'
    for (let room = 0; room < 260; room += 7) {
      const text = fitted(name, room)
      expect(textWidth(text)).toBeLessThanOrEqual(room)
      if (text && text !== name) expect(text.endsWith('…')).toBe(true)
    }
    expect(fitted(name, 400)).toBe(name)
    expect(shortest(['Upper limit', 'Upper'], 40)).toBe('Upper')
    expect(shortest(['Upper limit', 'Upper'], 10)).toBe('')
  })
})
