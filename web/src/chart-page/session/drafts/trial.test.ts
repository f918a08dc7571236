// A trial as a preview and as what is kept; an act as an intention.
import { describe, expect, it } from 'vitest'
import { Problem } from '../../../api/client.ts'
import { chart } from '../../../chart/sample.test-data.ts'
import { settle } from '../../data/change.ts'
import type { Settings } from '../../data/chart.ts'
import { eventAt, movedBy } from './eventDraft.ts'
import { changing, keepingLimits, removingShift, shifting } from './intents.ts'
import { keptLimitsBut, segmentsBut } from './settings.ts'
import { segmentsWith } from './shift.ts'
import { changedSpan, previewOf, requestOf } from './trial.ts'

const saved = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)
const trial = {
  intents: [{ target: 21 }],
  values: { '2026-03-02': 4 },
  aside: { '2026-03-03': 'Gale' },
}

describe('a trial', () => {
  it('is previewed with what is tried on top of it', () => {
    expect(previewOf(trial, saved)).toEqual({
      target: 21,
      values: trial.values,
      aside: trial.aside,
    })
    expect(previewOf(trial, saved, { target: 9, aside: { '2026-03-04': null } })).toEqual({
      target: 9,
      values: trial.values,
      aside: { '2026-03-03': 'Gale', '2026-03-04': null },
    })
  })

  it('is kept with all of its parts', () => {
    const { values, aside } = trial
    expect(requestOf(trial, saved)).toEqual({ settings: { target: 21 }, values, aside })
  })

  it('is worked out on the chart as it is by then, and takes back nothing of it', () => {
    const shift = {
      ...{ from: null, position: 3, period: '2026-03-04', name: '', what_changed: '', review: {} },
    }
    const intents = [shifting(shift), changing('2026-03-04', { name: 'Drill' })]
    const later = structuredClone(saved)
    Object.assign(later.segments[0] ?? {}, { name: 'Before' })
    const names = ({ segments = [] }: Settings) => segments.map(({ start, name }) => [start, name])
    expect(names(requestOf({ ...trial, intents }, later).settings ?? {})).toEqual([
      [null, 'Before'],
      ['2026-03-04', 'Drill'],
      ['2026-03-5', ''],
    ])
    const gone = [removingShift('2026-03-5'), changing('2026-03-5', { name: 'Drill' })]
    expect(() => requestOf({ ...trial, intents: gone }, later)).toThrow('no room')
  })

  describe('previews the limits that it changes, and no others', () => {
    const kept = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)

    it('as none where only the target is tried', () => {
      expect(changedSpan(kept, { ...kept, target_now: 4 })).toBeNull()
    })

    it('as the one segment whose baseline is tried', () => {
      const tried = structuredClone(kept)
      Object.assign(tried.segments[1] ?? {}, { upper: 7.5, lower: 2.5 })
      expect(changedSpan(kept, tried)).toEqual([1, 1])
    })

    it('as all that a shift parts anew, from the first to the last', () => {
      const moved = structuredClone(kept)
      Object.assign(moved.segments[0] ?? {}, { stop: 6 })
      Object.assign(moved.segments[1] ?? {}, { start: '2026-03-7', first: 6 })
      expect(changedSpan(kept, moved)).toEqual([0, 1])
      const [only] = kept.segments
      const without = { ...kept, segments: only ? [{ ...only, stop: 10 }] : [] }
      expect(changedSpan(kept, without)).toEqual([0, 0])
    })
  })
})

describe('a shift that is kept', () => {
  const saved = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)
  const draft = {
    from: null,
    position: 3,
    period: '2026-03-04',
    name: 'New ramp drill',
    what_changed: 'Two hands on the linkspan',
    review: { different: 'yes' as const },
  }

  it('comes with its name, its reason and its answers, and leaves the others as they are', () => {
    const { segments = [], kept_limits } = settle(shifting(draft), saved)
    expect(segments.map((one) => one.start)).toEqual([null, '2026-03-04', '2026-03-5'])
    expect(segments[1]).toMatchObject({
      name: 'New ramp drill',
      what_changed: 'Two hands on the linkspan',
      review: { different: 'yes' },
    })
    expect(kept_limits).toBeUndefined()
  })

  it('takes back that the limits were kept there, and there only', () => {
    const decided = (period: string) => ({ period, label: '', reason: 'On leave', review: {} })
    const now = { ...saved, kept_limits: [decided('2026-03-02'), decided('2026-03-04')] }
    const { kept_limits = [] } = settle(shifting(draft), now)
    expect(kept_limits.map((one) => one.period)).toEqual(['2026-03-02'])
  })

  it('has no room on the period of another', () => {
    expect(() => settle(shifting({ ...draft, period: '2026-03-5' }), saved)).toThrow(Problem)
  })

  it('changes a segment by its start, wherever that has come to stand', () => {
    const name = { name: 'Before' }
    const { segments = [] } = settle(changing('2026-03-5', name), saved)
    expect(segments.map((one) => one.name)).toEqual(['', 'Before'])
    expect(() => settle(changing('2026-03-9', name), saved)).toThrow('no room')
  })
})

describe('an act', () => {
  const now = chart([1, 2, 3, 4, 5, 6, 7, 8, 9, 10], 5)

  it('is worked out anew from the chart as it is', () => {
    const named = (one: typeof now) => {
      const segments = segmentsBut(one, one.segments[1]?.start ?? null, { name: 'Drill' })
      return segments && { segments }
    }
    const names = (one: typeof now) => settle(named, one).segments?.map(({ name }) => name)
    expect(names(now)).toEqual(['', 'Drill'])
    // Somebody else has named the first one meanwhile; on top, both names stay.
    const later = structuredClone(now)
    Object.assign(later.segments[0] ?? {}, { name: 'Before' })
    expect(names(later)).toEqual(['Before', 'Drill'])
  })

  it('that has no room any more is refused in words', () => {
    const gone = () => segmentsBut(now, '1999-01-01', {}) && {}
    expect(() => settle(gone, now)).toThrow(Problem)
    expect(settle({ target: 3 }, now)).toEqual({ target: 3 })
  })

  it('keeps the other decisions when one is taken anew', () => {
    const decision = { reason: 'x', review: {}, label: '' }
    const kept_limits = ['2026-03-02', '2026-03-04'].map((period) => ({ period, ...decision }))
    const left = keptLimitsBut('2026-03-02', { ...now, kept_limits })
    expect(left.map((one) => one.period)).toEqual(['2026-03-04'])
  })

  it('of a shift frees a baseline that would reach past it, and leaves others', () => {
    const held = structuredClone(now)
    Object.assign(held.segments[0] ?? {}, { window: ['2026-03-01', '2026-03-05'] })
    const draft = { from: null, name: '', what_changed: '', review: {} }
    const inside = segmentsWith(held, { ...draft, position: 3, period: '2026-03-04' })
    expect(inside?.[0]?.window).toBeNull()
    const after = segmentsWith(held, { ...draft, position: 7, period: '2026-03-08' })
    expect(after?.[0]?.window).toEqual(['2026-03-01', '2026-03-05'])
  })
})

describe('an intention', () => {
  const now = chart([1, 2, 3, 4, 5, 6, 7, 8, 9, 10], 5)

  it('to remove a shift leaves the others, and one to keep limits the segments', () => {
    const left = settle(removingShift(now.segments[1]?.start), now)
    expect(left.segments?.map((one) => one.start)).toEqual([null])
    expect(settle(keepingLimits('2026-03-07', 'On leave'), now)).toEqual({
      kept_limits: [{ period: '2026-03-07', reason: 'On leave', review: {} }],
    })
  })
})

describe('an event in the hand', () => {
  it('begins on the day of its point, and moves as a whole', () => {
    const draft = eventAt('2026-03-29T14:00+01:00', 'ramp')
    expect([draft.first, draft.last, draft.kpis]).toEqual(['2026-03-29', '2026-03-29', ['ramp']])
    expect(movedBy({ first: '2026-02-27', last: '2026-03-01' }, 3)).toEqual({
      first: '2026-03-02',
      last: '2026-03-04',
    })
  })
})
