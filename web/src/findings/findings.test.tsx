// The log of findings, one finding, the events and the history of a chart, as markup.
import { MantineProvider } from '@mantine/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import type { ReactElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { MemoryRouter, Route, Routes } from 'react-router'
import { describe, expect, it } from 'vitest'
import { keys } from '../api/keys.ts'
import { vocabulary } from '../chart/sample.test-data.ts'
import { EventsPage } from '../events/EventsPage.tsx'
import { HistoryPage } from '../history/HistoryPage.tsx'
import { FindingPanel } from './FindingPanel.tsx'
import { FindingsPage } from './FindingsPage.tsx'
import type { Finding, FindingDetail } from './findings.ts'

const nothing = () => undefined
const words = (markup: string) =>
  markup.replace(/<style[\s\S]*?<\/style>/g, '').replace(/<[^>]+>/g, ' ')

/** Draws a page at an address, with what the server has said already. */
function draw(page: ReactElement, address: string, path: string, known: [unknown[], unknown][]) {
  const client = new QueryClient()
  client.setQueryData(keys.vocabulary, vocabulary)
  for (const [key, data] of known) client.setQueryData(key, data)
  return renderToStaticMarkup(
    <QueryClientProvider client={client}>
      <MantineProvider env="test">
        <MemoryRouter initialEntries={[address]}>
          <Routes>
            <Route path={path} element={page} />
          </Routes>
        </MemoryRouter>
      </MantineProvider>
    </QueryClientProvider>,
  )
}

const finding = (id: number, more: Partial<Finding> = {}): Finding => ({
  id,
  kpi: 'ramp',
  kpi_name: 'Ramp cycle',
  rule: 'outside_limits',
  mark: 'outside',
  side: 1,
  first: '2026-03-02',
  last: '2026-03-02',
  label: '2 Mar',
  points: 1,
  title: 'Above the upper limit',
  text: '45.7 s; the upper limit is 42.5 s.',
  favorable: false,
  state: 'open',
  presence: 'present',
  cause: '',
  action: '',
  person: null,
  person_name: '',
  due: null,
  version: 1,
  evidence: [],
  is_new: false,
  ...more,
})
const detail = (more: Partial<FindingDetail> = {}): FindingDetail => ({
  ...finding(7),
  shared_out: null,
  why: [{ name: 'Distance', text: 'The furthest is 6.6 sigma above the central line.' }],
  entries: [],
  surroundings: { findings: [], events: [], states: [], imports: [] },
  people: [{ username: 'isla', name: 'Isla Corrie' }],
  ...more,
})

describe('one finding', () => {
  const panel = (one: FindingDetail, elsewhere = false) =>
    draw(
      <FindingPanel workspace="marrowick" number={7} elsewhere={elsewhere} onClose={nothing} />,
      '/',
      '/',
      [[['findings', 'marrowick', 'one', 7, 3], one]],
    )

  it('says why it is flagged and that nothing else is on record', () => {
    const said = words(panel(detail()))
    expect(said).toContain('6.6 sigma above the central line')
    expect(said).toContain('Nothing on record. Look further before and after.')
    expect(said).toContain('2 Mar, unfavorable')
  })

  it('leads to its chart only from elsewhere', () => {
    const link = 'href="/marrowick/charts/ramp?finding=7"'
    expect(panel(detail())).not.toContain(link)
    expect(panel(detail(), true)).toContain(link)
  })

  it('keeps what it was when it signals no more, with the state that the data gave', () => {
    const said = words(panel(detail({ presence: 'gone', state: 'shift' })))
    expect(said).toContain('It signals no more. When it did: 45.7 s')
    expect(said).toContain('Became a shift, off the chart')
    // Such a state can be left by hand, but not given.
    expect(said.match(/Became a shift/g)?.length).toBe(2)
    expect(words(panel(detail()))).not.toContain('Set aside')
  })

  it('tells remarks from what happened, and names the data', () => {
    const at = '2026-11-25T10:00:00Z'
    const markup = panel(
      detail({
        entries: [
          { id: 1, author: '', at, remark: false, text: 'It grew from 8 to 9 points' },
          { id: 2, author: 'Isla Corrie', at, remark: true, text: 'Asked the crew' },
        ],
      }),
    )
    expect(words(markup)).toMatch(/It grew from 8 to 9 points\s+The data, 25 Nov 2026/)
    expect(markup.match(/data-remark="true"/g)?.length).toBe(1)
  })

  it('lists what else was going on with how far it was', () => {
    const near = {
      title: 'Gale',
      first: '2026-03-01',
      last: '2026-03-03',
      when: 'at the same time',
    }
    const said = words(
      panel(
        detail({
          surroundings: {
            findings: [
              {
                kpi: 'fuel',
                kpi_name: 'Fuel',
                title: 'Run of 9',
                label: '9 Mar',
                when: '1 week after',
              },
            ],
            events: [],
            states: [near],
            imports: [],
          },
        }),
      ),
    )
    expect(said).toMatch(/Fuel\s*:\s+Run of 9\s+1 week after/)
    expect(said).toMatch(/Gale\s+at the same time/)
  })
})

/** The KPIs of a workspace, as they have come. */
const listed = (...kpis: object[]) => ({
  pages: [{ count: kpis.length, start: 0, kpis }],
  pageParams: [0],
})

describe('the log', () => {
  const counts = { open: 2, looking: 1, explained: 0, aside: 0, shift: 0 }
  const log = (address: string, wanted: object, findings: Finding[], count = findings.length) =>
    draw(<FindingsPage />, address, '/:workspace/findings', [
      [
        ['findings', 'marrowick', 'log', { state: [], ...wanted, start: 0 }],
        { count, start: 0, counts, findings, people: [] },
      ],
      [['kpis', 'marrowick'], listed()],
      [['session'], { person: 'Isla Corrie', username: 'isla', workspaces: [], demo: true }],
    ])

  it('counts by state, and lists each with its KPI and what is made of it', () => {
    const rows = [
      finding(1, { cause: 'Relief crew', person: 'isla', person_name: 'Isla Corrie' }),
      finding(2, { presence: 'gone', state: 'aside' }),
    ]
    const said = words(log('/marrowick/findings', {}, rows))
    expect(said).toMatch(/All\s+3\s+No cause yet\s+2\s+Being looked into\s+1/)
    expect(said).toMatch(/Above the upper limit\s+Relief crew/)
    expect(said).toContain('Set aside, off the chart')
    expect(said).toContain('Isla Corrie')
  })

  it('reads its filters from the address and hands them to the file', () => {
    const wanted = { kpi: 'ramp', rule: 'run', person: '', favorable: false, gone: true }
    const address =
      '/marrowick/findings?kpi=ramp&rule=run&person=%20nobody&favorable=false&gone=true'
    const markup = log(address, wanted, [finding(1)])
    expect(words(markup)).toContain('Above the upper limit')
    expect(markup).toContain('findings.csv?kpi=ramp&amp;rule=run&amp;person=&amp;favorable=false')
  })

  it('says what an empty list means', () => {
    expect(words(log('/marrowick/findings', {}, []))).toContain(
      'every chart shows routine variation',
    )
    expect(words(log('/marrowick/findings?kpi=ramp', { kpi: 'ramp' }, []))).toContain(
      'No finding is like that.',
    )
  })

  it('goes on to older ones where there are more than fit', () => {
    const said = words(log('/marrowick/findings', {}, [finding(1)], 240))
    expect(said).toMatch(/Newer\s+1\s+to\s+1\s+of\s+240\s+Older/)
    expect(words(log('/marrowick/findings', {}, [finding(1)]))).not.toContain('Older')
  })
})

describe('the events', () => {
  const events = (rows: object[], count = rows.length) =>
    words(
      draw(<EventsPage />, '/marrowick/events', '/:workspace/events', [
        [
          ['events', 'marrowick', { start: 0, search: '', state: '' }],
          { count, start: 0, events: rows, states: [] },
        ],
        [['kpis', 'marrowick'], listed({ slug: 'ramp', name: 'Ramp cycle' })],
      ]),
    )
  const gale = {
    id: 1, title: 'Gale', kind: 'state', text: 'Ramp closed', first: '2026-01-06',
    last: '2026-01-08', everywhere: false, kpis: ['ramp', 'gone'], version: 1,
  } // biome-ignore format: one row

  it('say when, what, and which KPIs they are told with', () => {
    const said = events([gale, { ...gale, id: 2, everywhere: true }])
    expect(said).toMatch(/6 Jan 2026 to 8 Jan 2026\s+State\s+Gale\s+Ramp closed/)
    expect(said).toMatch(/Ramp cycle\s*,\s*gone/)
    expect(said).toContain('All KPIs')
  })

  it('say so when there are none', () => {
    expect(events([])).toContain('No events yet.')
  })
})

describe('the history of a chart', () => {
  const act = {
    id: 3, at: '2026-11-25T10:00:00Z', author: 'Isla Corrie', summary: 'Changed the target',
    state: 'kept', turned_by: '', turned_at: null, settings: true,
  } // biome-ignore format: one row
  const history = (acts: object[]) =>
    words(
      draw(<HistoryPage />, '/marrowick/charts/ramp/history', '/:workspace/charts/:kpi/history', [
        [['chart', 'marrowick', 'ramp', { width: 100 }], { kpi: { name: 'Ramp cycle' } }],
        [['acts', 'marrowick', 'ramp', null], { acts, older: false }],
      ]),
    )

  it('offers every state but the present one, down to how the chart came', () => {
    const said = history([act, { ...act, id: 2, summary: 'Changed the unit' }])
    expect(said).toMatch(/History of\s+Ramp cycle/)
    expect(said).toMatch(/Changed the target[\s\S]*Changed the unit[\s\S]*As it came/)
    expect(said.match(/Bring back/g)?.length).toBe(2)
  })

  it('says who undid what', () => {
    const undone = { ...act, state: 'undone', turned_by: 'Iris', turned_at: act.at }
    expect(history([undone])).toMatch(/Changed the target\s+\(undone\)[\s\S]*undone by Iris/)
  })

  it('says so when nothing was done', () => {
    expect(history([])).toContain('Nothing has been done to this chart since it came.')
  })
})
