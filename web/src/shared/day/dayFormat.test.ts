// Days, written and read in the order of a locale.
import { describe, expect, it } from 'vitest'
import { dayFormat, firstDayOfWeek, readDay, writeDay } from './dayFormat.ts'

describe('a day', () => {
  it.each([
    ['en-GB', '18/05/2026'],
    ['en-US', '05/18/2026'],
    ['de-DE', '18.05.2026'],
    ['sv-SE', '2026-05-18'],
    ['ar-EG', '18/05/2026'],
    ['fa-IR', '2026/05/18'],
  ])('is written as %s has it, and read again', (locale, text) => {
    const format = dayFormat(locale)
    expect(writeDay('2026-05-18', format)).toBe(text)
    expect(readDay(text, format)).toBe('2026-05-18')
  })

  it('is read in its order, also when it is short or by the standard', () => {
    expect(readDay('3/4/26', dayFormat('en-GB'))).toBe('2026-04-03')
    expect(readDay('3/4/26', dayFormat('en-US'))).toBe('2026-03-04')
    expect(readDay(' 2026-4-3 ', dayFormat('en-US'))).toBe('2026-04-03')
  })

  it.each(['', 'soon', '31/06/2026', '29/02/2027', '18/05', '18/05/226'])(
    'is none where the calendar has none: %s',
    (text) => {
      expect(readDay(text, dayFormat('en-GB'))).toBeNull()
    },
  )

  it('begins its week where the locale has it', () => {
    expect([firstDayOfWeek('en-GB'), firstDayOfWeek('en-US')]).toEqual([1, 0])
  })
})
