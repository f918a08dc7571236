// What the parts around the chart say, as markup: findings, segment and target cards, tables.
import { MantineProvider } from '@mantine/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import type { ReactElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { MemoryRouter } from 'react-router'
import { describe, expect, it } from 'vitest'
import { keys } from '../api/keys.ts'
import { chart, segment, signal, vocabulary } from '../chart/sample.test-data.ts'
import { Comparison, touched } from '../intake/Comparison.tsx'
import { FoundTable } from '../intake/understood/FoundTable.tsx'
import { Problems } from '../intake/understood/Problems.tsx'
import type { Mode, Reading } from '../intake/understood/table.ts'
import { Ambiguous, LeftOut } from '../intake/understood/Understood.tsx'
import { readingsOf, typedNumber, wrongNumber } from '../shared/typing.ts'
import { ShiftBar } from './bars/ShiftBar.tsx'
import { Findings } from './below/FindingCards.tsx'
import { SegmentCard } from './cards/SegmentCard.tsx'
import { Chips } from './head/Chips.tsx'
import { Dates } from './head/Dates.tsx'
import { ShiftReview } from './review/ShiftReview.tsx'

const nothing = () => undefined
const queries = new QueryClient()
queries.setQueryData(keys.vocabulary, vocabulary)
const draw = (part: ReactElement) =>
  renderToStaticMarkup(
    <QueryClientProvider client={queries}>
      <MantineProvider env="test">
        <MemoryRouter>{part}</MemoryRouter>
      </MantineProvider>
    </QueryClientProvider>,
  )
const path = { workspace: 'marrowick', kpi: 'ramp' }
const words = (markup: string) =>
  markup.replace(/<style[\s\S]*?<\/style>/g, '').replace(/<[^>]+>/g, ' ')

describe('findings', () => {
  const part = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)
  const acts = {
    path,
    saved: false,
    at: null,
    opened: null,
    onLight: nothing,
    onOpen: nothing,
    onSelect: nothing,
    onReopen: nothing,
    onFollow: nothing,
    onMedian: nothing,
    onFirm: nothing,
    farOff: null,
  }

  it('come newest first, few at a time, with how many there are', () => {
    part.signals = [0, 2, 4, 6, 8].map((point) => ({
      ...signal('outside_limits', [point]),
      title: `Signal ${point}`,
    }))
    part.happenings = part.signals.map((one, n) => ({
      signals: [n],
      lead_first: one.label,
      lead_last: one.label,
      first: one.label,
      last: one.label,
      position: one.points[0] ?? 0,
      label: one.label,
      mark: one.mark,
      title: one.title,
      text: one.text,
      evidence: n === 4 ? ['2 ranges above limit'] : [],
    }))
    part.finding_count = 9
    const said = words(draw(<Findings chart={part} {...acts} />))
    expect(said.match(/Signal \d/g)).toEqual(['Signal 8', 'Signal 6', 'Signal 4'])
    expect(said).toContain('Also: 2 ranges above limit.')
    expect(said).toContain('Show all 5 findings')
    expect(said).toContain('5 of 9 findings are in the dates shown.')
  })

  it('say so when there are none, and why when there cannot be', () => {
    const quiet = { ...part, signals: [], happenings: [], finding_count: 0 }
    expect(words(draw(<Findings chart={quiet} {...acts} />))).toContain('routine variation')
    const young = { ...quiet, count: 3 }
    expect(words(draw(<Findings chart={young} {...acts} />))).toContain('5 values')
  })

  it('end with before and after where there is a shift', () => {
    const compared = {
      ...part,
      comparison: {
        before: 'Before',
        after: 'New ramp drill',
        numbers: [0, 1],
        rows: [
          {
            name: 'Average',
            before: '21.5',
            after: '19.4',
            change: '\u22122.1',
            percent: '\u221210 %',
          },
        ],
        evidence: '',
        sentence: 'Ramp cycle went from 21.5 to 19.4 s on average.',
      },
    }
    const said = words(draw(<Findings chart={compared} {...acts} />))
    expect(said).toMatch(
      /Before and after[\s\S]*New ramp drill[\s\S]*Average\s+21\.5\s+19\.4\s+\u22122\.1\s+\u221210 %/,
    )
  })
})

describe('a segment', () => {
  const part = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)
  Object.assign(part.segments[1] ?? {}, { how: 'Average 5.0 s of 5 days.', name: 'Drill' })

  it('says how its numbers were made, and can be removed unless it is the first', () => {
    const card = (number: number) =>
      words(
        draw(
          <SegmentCard
            chart={part}
            number={number}
            path={path}
            saving={false}
            onSave={nothing}
            onRemove={nothing}
            onBaseline={nothing}
          />,
        ),
      )
    expect(card(1)).toContain('Average 5.0 s of 5 days.')
    expect(card(1)).toContain('Remove shift')
    expect(card(0)).not.toContain('Remove shift')
    expect(card(0)).not.toContain('What changed')
  })

  it('is reviewed with its numbers and moved without asking again', () => {
    const draft = { position: 7, period: '2026-03-08', name: '', what_changed: '', review: {} }
    const review = (known: boolean) =>
      draw(
        <ShiftReview
          told={null}
          saved={part}
          preview={known ? { ...part, segments: [segment(0, 7, 10), segment(7, 10, 4)] } : null}
          candidate={undefined}
          number={1}
          draft={{ ...draft, from: null, review: { different: 'yes' } }}
          saving={false}
          onChange={nothing}
          onDate={nothing}
          onKeep={nothing}
          onKeepLimits={nothing}
          onCancel={nothing}
        />,
      )
    expect(review(true).match(/aria-pressed="true"/g)?.length).toBe(1)
    expect(words(review(true))).toMatch(/Average\s+5\.0\s+4\.0/)
    expect(words(review(true))).toContain('3 days so far')
    expect(words(review(false))).toContain('Recalculating…')
    const bar = draw(
      <ShiftBar
        chart={part}
        draft={{ ...draft, from: '2026-03-06' }}
        preview={null}
        saving={false}
        onKeep={nothing}
        onCancel={nothing}
      />,
    )
    expect(bar).not.toContain('Name of the new segment')
    expect(words(bar)).toContain('Recalculate from 8 Mar')
  })
})

describe('the controls above a chart', () => {
  const part = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)
  const shown = { average: true, limits: false, target: true }

  it('say which lines are on, and offer to add others', () => {
    const chips = (target: number | null) =>
      draw(
        <Chips
          chart={{ ...part, target_now: target, kpi: { ...part.kpi, target } }}
          shown={shown}
          onToggle={nothing}
          room={1280}
          onOpenLine={nothing}
          onOpenBand={nothing}
        >
          Add
        </Chips>,
      )
    expect(chips(20).match(/aria-pressed="(true|false)"/g)).toEqual([
      'aria-pressed="true"',
      'aria-pressed="false"',
      'aria-pressed="true"',
    ])
    expect(words(chips(20))).toContain('Target 20.0')
    expect(words(chips(null))).toContain('Add')
  })

  it('offer dates only where there is more than one value', () => {
    const dates = (count: number, breakdowns: string[] = []) =>
      draw(
        <Dates
          chart={{ ...part, count, kpi: { ...part.kpi, breakdowns } }}
          newest="2026-03-10"
          stretch={null}
          breakdown={null}
          onChange={nothing}
          onBy={nothing}
          onBreakdown={nothing}
          onCalendar={nothing}
        />,
      )
    expect(words(dates(1))).not.toContain('all dates')
    expect(words(dates(400))).toContain('by day, all dates')
    expect(words(dates(10, ['Ainsey']))).toContain('by day, the whole, all dates')
  })
})

describe('a table as it was understood', () => {
  const issue = (row: number, column: string) => ({
    row,
    column,
    found: 'twelve',
    detail: 'This is not a number.',
    remedy: 'Write one.',
    field: `${row}:1`,
  })
  const reading = {
    columns: [
      { name: 'Week', kind: 'date', share: 1, exceptions: [], role: 'period' },
      { name: 'Ramp (s)', kind: 'number', share: 0.9, exceptions: ['twelve'], role: 'value' },
    ],
    first_rows: [{ line: 2, cells: ['2026-01-05', '1.5'] }],
    sheets: [],
    layouts: ['long'],
    mapping: { date_style: 'day_first', decimal_mark: 'point', grain: 'week', roles: {} },
    date_styles: [{ style: 'day_first', example: '18/5/2026', reads: '' }],
    ambiguous_dates: [
      { style: 'day_first', example: '18/5/2026', reads: '3/4/2026 is 3 April 2026' },
      { style: 'month_first', example: '5/18/2026', reads: '3/4/2026 is 4 March 2026' },
    ],
    left_out: [
      { line: 61, why: 'total', text: 'Total 64' },
      { line: 62, why: 'note', text: 'Source: quay log' },
    ],
    left_out_count: 2,
    repeated: 0,
    problems: Array.from({ length: 20 }, (_, n) => issue(n + 2, 'Ramp (s)')),
    problem_count: 20,
  } as unknown as Reading
  const said = (part: ReactElement) => words(draw(part))
  const props = { mapping: {}, onChange: nothing }

  it('says of each column what it is for and how much of it fits', () => {
    const text = said(<FoundTable reading={reading} {...props} />)
    expect(text).toMatch(/Period[\s\S]*Week[\s\S]*dates[\s\S]*Value[\s\S]*numbers, 90 %/)
  })

  it('shows both readings of dates that do not tell, and what it leaves out', () => {
    const text = said(<Ambiguous reading={reading} {...props} />)
    expect(text).toMatch(/3 April 2026[\s\S]*4 March 2026/)
    const plain = { ...reading, ambiguous_dates: [] }
    expect(said(<Ambiguous reading={plain} {...props} />).trim()).toBe('')
    expect(said(<LeftOut reading={reading} {...props} />)).toContain('1 total, 1 note')
  })

  it('lists the first problems, counts the rest, and is silent without any', () => {
    const text = said(<Problems reading={reading} {...props} />)
    expect(text.match(/This is not a number\./g)?.length).toBe(12)
    expect(text).toContain('and 8 rows more')
    expect(text).toContain('Leave these rows out')
    const fine = { ...reading, problems: [], problem_count: 0 }
    expect(said(<Problems reading={fine} {...props} />).trim()).toBe('')
  })

  it('says what comes in beside what is there, by what becomes of it', () => {
    const counts = { new: 2, changed: 1, same: 40, missing: 3, typed: 0 }
    const difference = { counts, new: [], changed: [], missing: [] }
    const text = (mode: Mode) =>
      said(<Comparison difference={difference} mode={mode} onMode={nothing} />)
    expect(text('add')).toContain('1 changed value stays as it is')
    expect(text('replace')).toContain('3 values not in the table are removed')
    expect(
      (['add', 'update', 'replace'] as const).map((mode) => touched(difference, mode)),
    ).toEqual([2, 3, 6])
  })
})

describe('a typed number', () => {
  it('has a point or a comma, and is nothing else', () => {
    expect(['19.4', '19,4', '1 234,5', '\u22123', '.5', '1e3', '1.234'].map(typedNumber)).toEqual([
      19.4, 19.4, 1234.5, -3, 0.5, 1000, 1.234,
    ])
    const marked = ['1.234,5', '1,234.5', '1.234.567', '1,234,567', '-12,3456', '1.234.567,8']
    expect(marked.map(typedNumber)).toEqual([1234.5, 1234.5, 1234567, 1234567, -12.3456, 1234567.8])
    for (const text of ['', 'twelve', '1.2.3', '=1+1', '1e999', '5 min'])
      expect(typedNumber(text)).toBeNull()
  })

  it('that could be two is none, and both are shown', () => {
    expect(readingsOf('1,234')).toEqual([1234, 1.234])
    expect(typedNumber('1,234')).toBeNull()
    expect(wrongNumber('1,234')).toBe('Write 1234 or 1.234')
    expect(wrongNumber('twelve')).toBe('Not a number')
    expect(wrongNumber('19,4')).toBeNull()
  })
})
