// Where a shift may go, and which dates a stretch asks for.
import { describe, expect, it } from 'vitest'
import { chart } from '../../../chart/sample.test-data.ts'
import { segmentSettings } from './settings.ts'
import { type ShiftDraft, segmentsWith } from './shift.ts'
import { lastPeriods, movedStretch, offered, partOf, sharesOf, zoomedStretch } from './stretch.ts'

const saved = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)
Object.assign(saved.segments[1] ?? {}, {
  start: '2026-03-06',
  name: 'Drill',
  what_changed: 'Two hands',
  centre: 'median',
})

function draft(changes: Partial<ShiftDraft>): ShiftDraft {
  return {
    from: null,
    position: 2,
    period: '2026-03-03',
    name: 'New',
    what_changed: '',
    review: {},
    ...changes,
  }
}

const starts = (made: ShiftDraft) => segmentsWith(saved, made)?.map((one) => one.start)

describe('a shift in the hand', () => {
  it('goes between the segments by time, wherever it is put', () => {
    expect(starts(draft({}))).toEqual([null, '2026-03-03', '2026-03-06'])
    expect(starts(draft({ position: 8, period: '2026-03-09' }))).toEqual([
      null,
      '2026-03-06',
      '2026-03-09',
    ])
  })

  it('keeps what is known of a segment that moves, past others too', () => {
    const twice = structuredClone(saved)
    const last = structuredClone(twice.segments[1])
    if (!last) throw new Error('the sample has two segments')
    Object.assign(last, { start: '2026-03-09', first: 8, name: 'Later' })
    twice.segments.push(last)
    const made = segmentsWith(
      twice,
      draft({ from: '2026-03-06', position: 9, period: '2026-03-10', name: 'ignored' }),
    )
    expect(made?.map((one) => [one.start, one.name])).toEqual([
      [null, ''],
      ['2026-03-09', 'Later'],
      ['2026-03-10', 'Drill'],
    ])
    expect(made?.[2]).toMatchObject({ what_changed: 'Two hands', centre: 'median' })
  })

  it('has no place on the period of another shift, but may stay on its own', () => {
    expect(segmentsWith(saved, draft({ position: 5, period: '2026-03-06' }))).toBeNull()
    const own = draft({ from: '2026-03-06', position: 5, period: '2026-03-06' })
    expect(segmentsWith(saved, own)).toEqual(segmentSettings(saved))
  })

  it('changes nothing of the chart it was made from', () => {
    const before = structuredClone(saved)
    segmentsWith(saved, draft({}))
    expect(saved).toEqual(before)
  })
})

describe('a stretch of dates', () => {
  it('covers its number of periods and ends on its last day', () => {
    expect(lastPeriods(26, 'week', '2026-11-09')).toEqual({
      first: '2026-05-18',
      last: '2026-11-09',
    })
    expect(lastPeriods(1, 'day', '2026-11-09')).toEqual({ first: '2026-11-09', last: '2026-11-09' })
    expect(lastPeriods(48, 'hour', '2026-11-09')).toEqual({
      first: '2026-11-08T00:00',
      last: '2026-11-09T23:59',
    })
  })

  it('reaches back over a leap day and the turn of a year', () => {
    expect(lastPeriods(366, 'day', '2024-12-31').first).toBe('2024-01-01')
  })

  const whole = { first: '2026-01-01', last: '2026-04-11' }
  const on = (around: number) => ({ around, whole, grain: 'day' as const })

  it('is zoomed around a place that stays, down to a few periods and up to all of them', () => {
    expect(zoomedStretch(whole, 0.5, on(0))).toEqual({ first: '2026-01-01', last: '2026-02-20' })
    expect(zoomedStretch(whole, 0.5, on(1))).toEqual({ first: '2026-02-20', last: '2026-04-11' })
    expect(zoomedStretch(whole, 1e-6, on(0))).toEqual({ first: '2026-01-01', last: '2026-01-05' })
    expect(zoomedStretch(whole, 1.2, on(0.5))).toBeNull()
  })

  it('moves by its own length, but not past the newest day', () => {
    const week = { first: '2026-03-02', last: '2026-03-08' }
    expect(movedStretch(week, -1, 'day', '2026-04-11')).toEqual({
      first: '2026-02-23',
      last: '2026-03-01',
    })
    expect(movedStretch(week, 9, 'day', '2026-03-10').last).toBe('2026-03-10')
  })

  it('is a part of all dates, and is found there again', () => {
    const part = partOf(whole, 0.25, 0.75, 'day')
    expect(part).toEqual({ first: '2026-01-26', last: '2026-03-17' })
    expect(part && sharesOf(whole, part)).toEqual([0.25, 0.75])
    expect(partOf(whole, 0, 1, 'day')).toBeNull()
  })

  it('is offered by name, where it shows less than everything', () => {
    const names = offered('week', '2026-11-09', { count: 60, shift: '2026-05-18' }).map(
      ({ name }) => name,
    )
    expect(names).toEqual([
      'Last 13 weeks',
      'Last 26 weeks',
      'Last 12 months',
      'This year',
      'Since the last shift',
    ])
    expect(offered('year', '2026-01-01', { count: 9, shift: null })).toEqual([])
  })
})
