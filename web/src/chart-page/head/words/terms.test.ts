// The words of the trade, told of a chart: what is said follows what the chart has.
import { describe, expect, it } from 'vitest'
import type { Chart } from '../../../chart/model/types.ts'
import { chart as sample } from '../../../chart/sample.test-data.ts'
import { meaningOf, TERMS, type Term } from './terms.ts'

const chart = sample([10, 11, 9, 12, 10, 11, 4, 5, 3, 5, 4, 6], 6)
const terms = Object.keys(TERMS) as Term[]
const here = (term: Term, of: Chart = chart) => meaningOf(term, of)[1]
const lastOf = (changes: Partial<Chart['segments'][number]>): Chart => ({
  ...chart,
  segments: chart.segments.map((segment, n) =>
    n === chart.segments.length - 1 ? { ...segment, ...changes } : segment,
  ),
})

describe('the words of a chart', () => {
  it('are each told in two sentences that end', () => {
    for (const term of terms)
      for (const sentence of meaningOf(term, chart)) expect(sentence).toMatch(/^[A-Z].*\.$/)
  })

  it('name no number that the chart does not have', () => {
    const none = { average: null, average_range: null, lower: null, upper: null, range_limit: null }
    const empty: Chart = { ...lastOf({ ...none, n: 0 }), signals: [] }
    for (const term of ['average', 'moving-range', 'natural-process-limits', 'run'] as const)
      expect(here(term, empty)).not.toMatch(/\d/)
  })

  it('say that limits which follow a pattern are not one number', () => {
    expect(here('natural-process-limits', lastOf({ follows: 'trend' }))).toContain('pattern')
  })

  it('tell a baseline only where one is chosen', () => {
    expect(here('baseline', lastOf({ window: null }))).toContain('none is chosen')
    const chosen = lastOf({ window: ['2026-01-05', '2026-03-02'] })
    expect(here('baseline', chosen)).toMatch(/5 Jan 2026.* to .*2 Mar 2026/)
  })

  it('call no process predictable that shows signals', () => {
    const last = chart.segments.length - 1
    const quiet = { ...chart, signals: [] }
    expect(here('predictable', quiet)).toContain('nothing')
    const signal = { rule: 'run', segment: last, title: 'Run of 9', label: '5 Jan', points: [1] }
    const loud = { ...chart, signals: [signal] } as unknown as Chart
    expect(here('predictable', loud)).toContain('1 signal in view')
    expect(here('run', loud)).toBe('Here: Run of 9, 5 Jan.')
  })
})
