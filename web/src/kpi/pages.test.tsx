// What the parts around the chart say, as markup: findings, segment and target cards, tables.
import { MantineProvider } from '@mantine/core'
import type { ReactElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { chart, signal } from '../chart/sample.test-data.ts'
import { FoundTable } from '../intake/FoundTable.tsx'
import { Problems } from '../intake/Problems.tsx'
import type { Reading } from '../intake/table.ts'
import { Chips } from './Chips.tsx'
import { Dates } from './Dates.tsx'
import { Findings } from './Findings.tsx'
import { SegmentCard } from './SegmentCard.tsx'
import { ShiftBar } from './ShiftBar.tsx'

const nothing = () => undefined
const draw = (part: ReactElement) =>
  renderToStaticMarkup(<MantineProvider env="test">{part}</MantineProvider>)
const words = (markup: string) =>
  markup.replace(/<style[\s\S]*?<\/style>/g, '').replace(/<[^>]+>/g, ' ')

describe('findings', () => {
  const part = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)

  it('come newest first, few at a time, with how many there are', () => {
    part.signals = [0, 2, 4, 6, 8].map((point) => ({
      ...signal('outside_limits', [point]),
      title: `Signal ${point}`,
    }))
    part.signal_count = 9
    const said = words(draw(<Findings chart={part} onSelect={nothing} />))
    expect(said.match(/Signal \d/g)).toEqual(['Signal 8', 'Signal 6', 'Signal 4'])
    expect(said).toContain('Show all 5 signals')
    expect(said).toContain('5 of 9 signals are in the dates shown.')
  })

  it('say so when there are none, and why when there cannot be', () => {
    const quiet = { ...part, signals: [], signal_count: 0 }
    expect(words(draw(<Findings chart={quiet} onSelect={nothing} />))).toContain(
      'routine variation',
    )
    const young = { ...quiet, count: 3 }
    expect(words(draw(<Findings chart={young} onSelect={nothing} />))).toContain('five values')
  })

  it('end with before and after where there is a shift', () => {
    const compared = {
      ...part,
      comparison: {
        before: 'Before',
        after: 'New ramp drill',
        rows: [{ name: 'Average', before: '21.5', after: '19.4' }],
      },
    }
    const said = words(draw(<Findings chart={compared} onSelect={nothing} />))
    expect(said).toMatch(/Before and after[\s\S]*New ramp drill[\s\S]*Average\s+21\.5\s+19\.4/)
  })
})

describe('a segment', () => {
  const part = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)
  Object.assign(part.segments[1] ?? {}, { made: 'Average 5.0 s of 5 days.', name: 'Drill' })

  it('says how its numbers were made, and can be removed unless it is the first', () => {
    const card = (number: number) =>
      words(
        draw(
          <SegmentCard
            chart={part}
            number={number}
            saving={false}
            onSave={nothing}
            onRemove={nothing}
          />,
        ),
      )
    expect(card(1)).toContain('Average 5.0 s of 5 days.')
    expect(card(1)).toContain('Remove shift')
    expect(card(0)).not.toContain('Remove shift')
    expect(card(0)).not.toContain('What changed')
  })

  it('is asked for its name only when it is new', () => {
    const bar = (from: string | null) =>
      draw(
        <ShiftBar
          chart={part}
          draft={{ from, position: 5, period: '2026-03-06', name: '', what_changed: '' }}
          comparison={null}
          saving={false}
          onChange={nothing}
          onKeep={nothing}
          onCancel={nothing}
        />,
      )
    expect(bar(null)).toContain('Name of the new segment')
    expect(bar('2026-03-06')).not.toContain('Name of the new segment')
    expect(words(bar(null))).toContain('Recalculating…')
    expect(words(bar(null))).toContain('Recalculate from 6 Mar')
  })
})

describe('the controls above a chart', () => {
  const part = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)
  const shown = { average: true, limits: false, target: true }

  it('say which lines are on, and offer a target where there is none', () => {
    const chips = (target: number | null) =>
      draw(
        <Chips
          kpi={{ ...part.kpi, target }}
          shown={shown}
          onChange={nothing}
          onAddTarget={nothing}
        />,
      )
    expect(chips(20).match(/aria-pressed="(true|false)"/g)).toEqual([
      'aria-pressed="true"',
      'aria-pressed="false"',
      'aria-pressed="true"',
    ])
    expect(words(chips(20))).toContain('Target 20.0')
    expect(words(chips(null))).toContain('Add a target')
  })

  it('offer stretches of dates only where there is more than one would show', () => {
    const dates = (count: number) =>
      draw(
        <Dates chart={{ ...part, count }} newest="2026-03-10" stretch={null} onChange={nothing} />,
      )
    expect(words(dates(10))).not.toContain('all dates')
    expect(words(dates(400))).toContain('by day, all dates')
  })
})

describe('a table as it was understood', () => {
  const issue = (row: number, column: string) => ({
    row,
    column,
    found: 'twelve',
    detail: 'This is not a number.',
    remedy: 'Write one.',
    field: '',
  })
  const reading: Reading = {
    columns: [
      { name: 'Week', kind: 'date', share: 1 },
      { name: 'Ramp (s)', kind: 'number', share: 0.9 },
    ],
    first_rows: [{ line: 2, cells: ['2026-01-05', '1.5'] }],
    row_count: 1200,
    delimiter: 'tab',
    encoding: 'utf-8',
    choices: {
      header: true,
      period: 0,
      value: 1,
      date_style: 'day_first',
      decimal_mark: 'point',
      grain: 'week',
      time_zone: 'Europe/London',
      leave_out: false,
    },
    date_styles: [{ style: 'day_first', example: '18/5/2026' }],
    ambiguous_dates: true,
    value_count: 1180,
    missing: 4,
    sorted_here: true,
    problems: Array.from({ length: 20 }, (_, n) => issue(n + 2, 'Ramp (s)')),
    problem_count: 20,
    name: 'Ramp',
    unit: 's',
    decimals: 1,
    chart: null,
  }

  it('counts what is there and asks what the dates do not tell', () => {
    const said = words(draw(<FoundTable reading={reading} choices={{}} onChange={nothing} />))
    expect(said).toContain(
      '1,200 rows · tab-separated · 1,180 values by week · 4 empty · sorted by date',
    )
    expect(said).toMatch(/Day or month first\?[\s\S]*18\/5\/2026/)
    const plain = { ...reading, ambiguous_dates: false }
    expect(
      words(draw(<FoundTable reading={plain} choices={{}} onChange={nothing} />)),
    ).not.toContain('Day or month first?')
  })

  it('lists the first problems, counts the rest, and is silent without any', () => {
    const said = words(draw(<Problems reading={reading} choices={{}} onChange={nothing} />))
    expect(said.match(/This is not a number\./g)?.length).toBe(12)
    expect(said).toContain('and 8 rows more')
    expect(said).toContain('Leave these rows out and save the rest')
    const fine = { ...reading, problems: [], problem_count: 0 }
    expect(words(draw(<Problems reading={fine} choices={{}} onChange={nothing} />)).trim()).toBe('')
  })
})
