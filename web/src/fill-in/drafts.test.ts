// @vitest-environment jsdom
// What is typed for values that are due: kept, spread over rows, sent, and refused by row.
import { beforeEach, describe, expect, it } from 'vitest'
import { typingOf } from '../shared/typing.ts'
import {
  asRow,
  type Draft,
  type Drafts,
  emptyDraft,
  keep,
  kept,
  keyOf,
  ready,
  refused,
  spread,
  withDraft,
} from './drafts.ts'
import type { DueValue, ValueCheck } from './fillIn.ts'

const due = (kpi: string, more: Partial<DueValue> = {}): DueValue => ({
  ...{ kpi, name: kpi, group: '', unit: 'min', aggregation: 'mean', grain: 'week' },
  ...{ period: '2026-11-23', label: '', breakdown: '', last: '', last_label: '', expected: '' },
  filled_by: null,
  ...more,
})
const draft = (kpi: string, text: string, more: Partial<Draft> = {}): Draft => ({
  ...emptyDraft(due(kpi)),
  text,
  ...more,
})
const drafts = (...all: Draft[]): Drafts => Object.fromEntries(all.map((one) => [keyOf(one), one]))
const outside: ValueCheck = { stands: 'above', text: 'Above', asks: true }

describe('a column that is pasted', () => {
  const rows = ['a', 'b', 'c'].map((kpi) => due(kpi))

  it('goes into the rows from where it is pasted, with what stands beside each number', () => {
    const { cells, left } = spread(rows, 1, '1.5\tfog\r\n 2 \r\n')
    expect(cells.map(({ value, text, why }) => [value.kpi, text, why])).toEqual([
      ['b', '1.5', 'fog'],
      ['c', '2', ''],
    ])
    expect(left).toBe(0)
  })

  it('tells how many lines found no row', () => {
    expect(spread(rows, 2, '1\n2\n3').left).toBe(2)
  })

  it('leaves a row alone whose line is empty', () => {
    expect(spread(rows, 0, '1\n\n3').cells.map(({ text }) => text)).toEqual(['1', '', '3'])
  })
})

describe('what is sent', () => {
  it('is what can be read and was not refused', () => {
    const all = drafts(
      draft('a', '19,4'),
      draft('b', 'abc'),
      draft('c', '1,234'),
      draft('d', '3', { refused: 'somebody else' }),
      draft('e', ' '),
    )
    const sent = ready(all, () => typingOf({ aggregation: 'mean' }))
    // 1,234 could be two numbers: it is asked about, not guessed.
    expect(sent.map(({ draft, typed }) => [draft.kpi, typed.value])).toEqual([['a', 19.4]])
  })

  it('has the cause of a finding only where there will be one', () => {
    const why = ' fog on Tuesday '
    const one = draft('a', '39', { why })
    expect(asRow(one, { value: 39 }, outside)).toMatchObject({
      note: 'fog on Tuesday',
      cause: 'fog on Tuesday',
    })
    const within: ValueCheck = { stands: 'within', text: '', asks: false }
    for (const check of [within, undefined])
      expect(asRow(one, { value: 39 }, check)).toMatchObject({ note: 'fog on Tuesday', cause: '' })
  })

  it('has both numbers of a ratio', () => {
    const typed = typingOf({ aggregation: 'ratio' }).read('92 of 98')
    expect(asRow(draft('a', '92 of 98'), typed ?? {}, undefined)).toMatchObject({
      value: null,
      numerator: 92,
      denominator: 98,
    })
  })
})

describe('what was refused', () => {
  const all = drafts(draft('a', '1'), draft('b', '2', { over: true }))
  const keys = Object.keys(all)
  const issue = (field: string) => ({
    ...{ detail: 'Ewan was quicker.', remedy: 'Look.', field },
    ...{ row: null, column: '', found: '' },
  })

  it('stands at its row, which is not sent over theirs unasked', () => {
    const told = refused(all, keys, [issue('rows.1.value')])
    expect(told[keys[1] ?? '']).toMatchObject({ refused: 'Ewan was quicker. Look.', over: false })
    expect(told[keys[0] ?? '']?.refused).toBe('')
  })

  it('of no row, or of one that is not there, changes nothing', () => {
    expect(refused(all, keys, [issue(''), issue('rows.9.value'), issue('title')])).toEqual(all)
  })
})

describe('what the device keeps', () => {
  beforeEach(() => localStorage.clear())

  it('is of one person in one workspace, and gone once nothing is typed', () => {
    const all = drafts(draft('a', '1'))
    keep('quays', 'isla', all)
    expect(kept('quays', 'isla')).toEqual(all)
    expect(kept('quays', 'ewan')).toEqual({})
    expect(kept('harbour', 'isla')).toEqual({})
    keep('quays', 'isla', {})
    expect(localStorage.length).toBe(0)
  })

  it('is nothing where it is something else', () => {
    for (const text of ['{', '[]', 'null', '7', '{"a": 1}', '{"a": {"kpi": "a"}}', '{"a": null}']) {
      localStorage.setItem('fluctus.fill-in.quays.isla', text)
      expect(kept('quays', 'isla')).toEqual({})
    }
  })

  it('holds no row in which nothing is typed any more', () => {
    const one = draft('a', '1')
    const all = withDraft({}, keyOf(one), one)
    expect(withDraft(all, keyOf(one), { ...one, text: ' ' })).toEqual({})
    expect(withDraft(all, keyOf(one), { ...one, text: '', why: 'fog' })).not.toEqual({})
  })
})
