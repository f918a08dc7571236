// Improvements: drafts of new ones and of those that there are, and the ledger as markup.
import { MantineProvider } from '@mantine/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { renderToStaticMarkup } from 'react-dom/server'
import { MemoryRouter, Route, Routes } from 'react-router'
import { describe, expect, it } from 'vitest'
import { keys } from '../api/keys.ts'
import { ImprovementsPage } from './ImprovementsPage.tsx'
import { type Aim, draftOf, type Improvement, newDraft } from './improvements.ts'
import { SmallCourse, SmallOutcome } from './SmallOutcome.tsx'

const aim = (more: Partial<Aim> = {}): Aim => ({
  ...{ kpi: 'wait', kpi_name: 'Lane wait', wanted: 'lower', amount: 2, by: null, worth: null },
  ...{ worth_unit: '', state: 'held', state_name: 'It held', state_since: '2026-06-01T00:00Z' },
  ...{ says: '12 weeks in, and it holds.', n: 3, m: 2, average: 20, lower: 18, upper: 22 },
  ...{ brought: 6, band: 2, moved: '2026-05-25', proposes: null, together_with: [] },
  numbers: { unit: 'min', power: 0, decimals: 1, level_decimals: 1 },
  drawn: {
    ...{ before: [20, 21, 19], since: [17, 17], periods: ['2026-05-25', '2026-06-01'] },
    ...{ course: [3, 6], band: [1, 2] },
  },
  ...more,
})

const improvement = (more: Partial<Improvement> = {}): Improvement => ({
  ...{ id: 3, name: 'Lanes marked', text: '', owner: 'isla', owner_name: 'Isla Corrie' },
  ...{ began: '2026-05-25', made_of: null, aims: [aim()], version: 4, removed: false },
  ...more,
})

const plain = (markup: string) =>
  markup
    .replace(/<style[\s\S]*?<\/style>/g, '')
    .replace(/<[^>]+>/g, ' ')
    .replace(/\s+/g, ' ')

function page(improvements: Improvement[]) {
  const client = new QueryClient()
  client.setQueryData(keys.improvements('marrowick', undefined), { improvements, totals: [] })
  return renderToStaticMarkup(
    <QueryClientProvider client={client}>
      <MantineProvider env="test">
        <MemoryRouter initialEntries={['/marrowick/improvements']}>
          <Routes>
            <Route path="/:workspace/improvements" element={<ImprovementsPage />} />
          </Routes>
        </MemoryRouter>
      </MantineProvider>
    </QueryClientProvider>,
  )
}

describe('an improvement', () => {
  it('is to move its KPI the way that is better for it', () => {
    const of = (direction: 'higher' | 'lower' | 'neither') =>
      newDraft('2026-05-25', { slug: 'wait', direction }).aims[0]?.wanted
    expect([of('higher'), of('lower'), of('neither')]).toEqual(['higher', 'lower', 'lower'])
    expect(newDraft('2026-05-25', null).aims).toEqual([])
    expect(newDraft('2026-05-25', null, { finding: 7 }).finding).toBe(7)
  })

  it('is changed as it is, without what was computed of it', () => {
    const draft = draftOf(improvement())
    expect(draft).toMatchObject({ id: 3, version: 4, name: 'Lanes marked', owner: 'isla' })
    expect(draft.aims).toEqual([
      { kpi: 'wait', wanted: 'lower', amount: 2, by: null, worth: null, worth_unit: '' },
    ])
  })

  it('stands in the ledger with its state in words, and those it shares its time with', () => {
    const text = plain(
      page([
        improvement({ aims: [aim({ together_with: ['Second mate'], proposes: '2026-05-25' })] }),
      ]),
    )
    expect(text).toContain('since 25 May 2026 · Isla Corrie')
    expect(text).toContain('It held')
    expect(text).toContain('In the same time: Second mate. What they brought is theirs together.')
    expect(text).toContain('Review the shift')
  })

  it('says what an empty ledger is for, and what has lost its KPI', () => {
    expect(plain(page([]))).toContain('Nothing is written down yet.')
    expect(plain(page([improvement({ aims: [] })]))).toContain('has been deleted')
  })

  it('is drawn cut at its day, with the baseline going on dotted', () => {
    const markup = renderToStaticMarkup(<SmallOutcome aim={aim()} width={100} height={50} />)
    expect(markup.match(/stroke-dasharray="1.5 3"/g)).toHaveLength(3)
    expect(markup.match(/stroke-dasharray="4 3"/g)).toHaveLength(2)
    expect(markup).toContain('3 values before, 2 since')
    const bare = aim({ average: null, lower: null, upper: null })
    expect(renderToStaticMarkup(<SmallOutcome aim={bare} width={100} height={50} />)).not.toContain(
      'dasharray',
    )
  })

  it('draws what it brought within its band, once there is a line to draw', () => {
    const drawn = { ...aim().drawn, course: [3], band: [1] }
    expect(renderToStaticMarkup(<SmallCourse aim={aim({ drawn })} width={90} height={40} />)).toBe(
      '',
    )
    expect(renderToStaticMarkup(<SmallCourse aim={aim()} width={90} height={40} />)).toContain(
      'What it brought so far',
    )
  })
})
