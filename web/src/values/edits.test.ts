// What is typed or pasted into the ledger, as edits: each on the version that was seen.
import { describe, expect, it } from 'vitest'
import { typingOf } from '../shared/typing.ts'
import { asEdit, changed, pasted, type Rows } from './edits.ts'
import { textOf } from './useLedger.ts'
import type { Value } from './values.ts'

const value = (n: number, more: Partial<Value> = {}): Value => ({
  ...({ period: `2026-0${n + 1}-01`, breakdown: '', value: 20 + n, numerator: null } as Value),
  ...{ denominator: null, note: '', set_aside: false, reason: '', version: 100 + n },
  ...more,
})

const rows = (more: Partial<Rows> = {}): Rows => {
  const values = [value(0), value(1, { note: 'fog', set_aside: true, reason: 'Fog.' }), value(2)]
  return {
    ...{ count: values.length, at: (row) => values[row], next: { period: '2026-04-01' } },
    ...{ breakdown: null, typing: typingOf({ aggregation: 'mean' } as never), ...more },
  }
}

describe('an edit', () => {
  it('is the row as it is but for what is changed, on the version that was seen', () => {
    expect(changed(rows(), 1, { value: 30 })).toEqual({
      ...{ period: '2026-02-01', breakdown: '', value: 30, numerator: null, denominator: null },
      ...{ note: 'fog', set_aside: true, reason: 'Fog.', seen: 101 },
    })
    expect(asEdit(value(0, { version: null as never })).seen).toBeNull()
  })

  it('at the end is of the next period, and of the part that is chosen', () => {
    expect(changed(rows({ breakdown: 'Ainsey' }), 3, { value: 7 })).toEqual({
      ...{ period: '2026-04-01', breakdown: 'Ainsey', value: 7 },
    })
  })

  it('begins with what is typed to mean the same again', () => {
    const read = typingOf({ aggregation: 'mean' } as never).read
    for (const number of [19.4, -0.25, 1234.5, 1e21, 0]) {
      const text = textOf(value(0, { value: number }), 'value')
      expect(read(text)).toEqual({ value: number })
    }
    const fraction = typingOf({ aggregation: 'ratio' } as never).read
    const text = textOf(value(0, { numerator: 117, denominator: 130 }), 'value')
    expect(fraction(text)).toMatchObject({ numerator: 117, denominator: 130 })
    expect(textOf(undefined, 'value')).toBe('')
    expect(textOf(value(0, { value: null as never }), 'value')).toBe('')
    expect(textOf(value(1, { note: 'fog' }), 'note')).toBe('fog')
  })
})

describe('a block that is pasted', () => {
  it('goes over the rows that there are, and on past their end', () => {
    const made = pasted(rows(), 1, 'value', '30\n31\n32\n33\n')
    if (!('edits' in made)) throw new Error(made.message)
    expect(made.edits.map(({ period, value, seen }) => [period, value, seen])).toEqual([
      ...[
        ['2026-02-01', 30, 101],
        ['2026-03-01', 31, 102],
        ['+1', 32, null],
        ['+2', 33, null],
      ],
    ])
    // What was set aside stays so, with its reason.
    expect(made.edits[0]).toMatchObject({ set_aside: true, reason: 'Fog.', note: 'fog' })
  })

  it('has notes in its second column, where it has one', () => {
    const made = pasted(rows(), 0, 'value', `30\tnew crew\n31\t\n32\t${'x'.repeat(600)}`)
    if (!('edits' in made)) throw new Error(made.message)
    expect(made.edits.map(({ note }) => note?.length)).toEqual([8, 0, 500])
  })

  it('of notes alone changes no value, and ends with the rows', () => {
    const made = pasted(rows(), 1, 'note', 'one\ntwo\nthree\nfour')
    if (!('edits' in made)) throw new Error(made.message)
    expect(made.edits.map(({ note, value }) => [note, value])).toEqual([
      ...[
        ['one', 21],
        ['two', 22],
      ],
    ])
  })

  it('is refused whole where a cell is no number, by row and text', () => {
    const made = pasted(rows(), 0, 'value', '30\nabout 31\n32')
    expect(made).toMatchObject({
      title: 'Nothing was pasted.',
      message: expect.stringContaining('Row 2 of the block, “about 31”: Not a number'),
    })
    const either = pasted(rows(), 0, 'value', '1,234')
    expect(either).toMatchObject({ message: expect.stringContaining('Write 1234 or 1.234') })
  })

  it('waits for rows that are not there yet, and for the part that new ones belong to', () => {
    const loading = rows({ at: (row) => (row === 2 ? undefined : value(row)) })
    expect(pasted(loading, 1, 'value', '1\n2')).toEqual({
      message: 'Some of these rows are still loading. Paste again.',
    })
    expect(pasted(rows({ next: null }), 2, 'value', '1\n2')).toEqual({
      message: 'Choose a breakdown first, so that new values belong to one.',
    })
    expect('edits' in pasted(rows({ next: null }), 1, 'value', '1\n2')).toBe(true)
  })

  it('of any numbers comes to as many edits, each of a period of its own', () => {
    let seed = 7
    const random = (most: number) => {
      seed = (seed * 48_271) % 2_147_483_647
      return seed % most
    }
    for (let n = 0; n < 200; n++) {
      const numbers = Array.from({ length: 1 + random(8) }, () => (random(4000) - 2000) / 8)
      const from = random(4)
      const made = pasted(rows(), from, 'value', numbers.map(String).join('\r\n'))
      if (!('edits' in made)) throw new Error(made.message)
      expect(made.edits.map((edit) => edit.value)).toEqual(numbers)
      expect(new Set(made.edits.map((edit) => edit.period)).size).toBe(numbers.length)
      expect(made.edits.filter((edit) => edit.seen).length).toBe(Math.min(numbers.length, 3 - from))
    }
  })
})
