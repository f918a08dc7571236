// What is typed into the table of values: a number, or both numbers of a ratio.
import { describe, expect, it } from 'vitest'
import { typingOf } from '../shared/typing.ts'
import { asEdit, pasted, type Rows } from './edits.ts'
import type { Value } from './values.ts'

const ratio = typingOf({ aggregation: 'ratio' })
const plain = typingOf({ aggregation: 'sum' })

const value = (more: Partial<Value>): Value => ({
  ...{ period: '2026-01-05', breakdown: '', value: 90, numerator: 45, denominator: 50 },
  ...{
    target: null,
    target_high: null,
    rows: 1,
    note: '',
    set_aside: false,
    reason: '',
    typed: false,
  },
  ...{ version: 7, author: '', at: '', act: '' },
  ...more,
})

const rows = (typing: Rows['typing']): Rows => ({
  ...{ count: 1, at: () => value({}), next: { period: '2026-01-12' }, breakdown: null, typing },
})

describe('what is typed', () => {
  it.each([
    ['92 of 98', 92, 98],
    ['92/98', 92, 98],
    [' 1204 OF 1310 ', 1204, 1310],
    ['92,5 of 98', 92.5, 98],
  ])('%s is both numbers of a ratio', (text, numerator, denominator) => {
    expect(ratio.read(text)).toEqual({ value: null, numerator, denominator })
    expect(ratio.wrong(text)).toBeNull()
  })

  it.each(['92', '92 of', 'of 98', '92 of 98 of 99', 'many of 98', '92.5%'])(
    '%s is none',
    (text) => {
      expect(ratio.read(text)).toBeNull()
      expect(ratio.wrong(text)).toBe('Write both numbers: 92 of 98')
    },
  )

  it('says that there is no ratio by 0, and nothing of what is empty', () => {
    expect(ratio.wrong('9 of 0')).toBe('There is no ratio by 0')
    expect(ratio.wrong('  ')).toBeNull()
  })

  it('is one number elsewhere', () => {
    expect(plain.read('19.4')).toEqual({ value: 19.4 })
    expect(plain.read('92 of 98')).toBeNull()
  })

  it('is pasted as it is typed, past the end as well, and says which row is none', () => {
    expect(pasted(rows(ratio), 0, 'value', '40 of 50\n41 of 52')).toEqual({
      edits: [
        { ...asEdit(value({})), value: null, numerator: 40, denominator: 50 },
        { period: '+1', breakdown: '', value: null, numerator: 41, denominator: 52, seen: null },
      ],
    })
    expect(pasted(rows(ratio), 0, 'value', '40 of 50\n41')).toMatchObject({
      message: expect.stringContaining('Row 2 of the block, “41”: Write both numbers'),
    })
  })

  it('leaves both numbers as they are where only the note changes', () => {
    expect(pasted(rows(ratio), 0, 'note', 'counted twice')).toEqual({
      edits: [{ ...asEdit(value({})), note: 'counted twice' }],
    })
    expect(asEdit(value({}))).toMatchObject({ numerator: 45, denominator: 50 })
  })
})
