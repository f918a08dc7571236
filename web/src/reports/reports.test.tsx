// @vitest-environment jsdom
// Reports: what is asked for, by every scope; how far one is; what is made by itself.
import { describe, expect, it } from 'vitest'
import {
  address,
  choose,
  press,
  Refused,
  screen,
  screens,
  serve,
  show,
  type,
  unfold,
  waitFor,
  within,
} from '../shared/screen.test-data.tsx'
import { NewReport, type Start } from './NewReport.tsx'
import { ReportsPage } from './ReportsPage.tsx'

screens()

const kpis = [
  { slug: 'ramp', name: 'Ramp cycle', group: 'Quays', latest: '', attention: 'steady' },
  { slug: 'wait', name: 'Lane wait', group: 'Quays', latest: '', attention: 'steady' },
  { slug: 'fuel', name: 'Fuel', group: '', latest: '', attention: 'steady' },
]
const pages = { pages: [{ id: 4, title: 'Weekly sheet', charts: 2 }], count: 1 }
const report = (id: number, more: object = {}) => ({
  ...{ id, title: `Report ${id}`, format: 'pdf', scope: 'all', person: 'Isla Corrie' },
  ...{ at: '2026-11-02T09:00:00Z', status: 'done', progress: 1, stage: '', problem: null },
  ...{ shows: [{ slug: 'ramp', name: 'Ramp cycle', revision: 3 }], left_out: [], pages: 5 },
  ...more,
})
const known = {
  'GET /kpis': { kpis, count: 3 },
  'GET /pages': pages,
  'POST /reports': { id: 9 },
}

function asking(start: Start, answers: object = {}) {
  const server = serve({ ...known, ...answers })
  show(<NewReport workspace="marrowick" start={start} onClose={() => undefined} />)
  return server
}

const asked = async (server: ReturnType<typeof serve>) => {
  await waitFor(() => expect(server.of('POST /reports')).toHaveLength(1))
  return server.of('POST /reports')[0]?.body as Record<string, unknown>
}

const canBeMade = async () =>
  !(await screen.findByRole('button', { name: 'Make it' })).hasAttribute('disabled')

describe('a new report', () => {
  it('is not made before it has a title and something to show', async () => {
    asking({ scope: 'kpis' })
    expect(await canBeMade()).toBe(false)
    type('Title', '  ')
    expect(await canBeMade()).toBe(false)
    type('Title', 'How it ran')
    expect(await canBeMade()).toBe(false)
    await choose('KPIs', 'Lane wait')
    expect(await canBeMade()).toBe(true)
  })

  it('begins with what is on screen, in the name of who asks, and leads to where it is made', async () => {
    const server = asking({ scope: 'kpis', kpis: ['ramp'], title: 'Ramp', views: { ramp: 'Year' } })
    await press('Make it')
    expect(await asked(server)).toEqual({
      ...{ title: 'Ramp', format: 'pdf', scope: 'kpis', kpis: ['ramp'], views: { ramp: 'Year' } },
      ...{ page: null, group: '', author: 'Isla Corrie', intro: '', texts: {}, paper: 'A4' },
      ...{ names: true, weeks: null, first: null, last: null },
    })
    await waitFor(() => expect(address()).toBe('/marrowick/reports/9'))
  })

  it('of a group shows the KPIs of that group, each with words of its own', async () => {
    const server = asking({ scope: 'all', title: 'Quays' })
    await screen.findByLabelText('Title')
    await choose('Shows', 'A group')
    expect(await canBeMade()).toBe(false)
    await choose('Group', 'Quays')
    expect(screen.queryByLabelText('Before Fuel')).toBeNull()
    type('Before Lane wait', 'Since the lanes were marked.')
    await choose('Dates', 'Last 26 weeks')
    await press('Make it')
    expect(await asked(server)).toMatchObject({
      ...{ scope: 'group', group: 'Quays', kpis: [], weeks: 26 },
      texts: { wait: 'Since the lanes were marked.' },
    })
  })

  it('of a page is paper or slides, and a workbook is of KPIs alone', async () => {
    const server = asking({ scope: 'all', title: 'Sheet' })
    await screen.findByLabelText('Title')
    await unfold('Shows')
    expect(await screen.findByRole('option', { name: 'A page' })).toBeTruthy()
    await press('A page', 'option')
    await choose('Page', 'Weekly sheet')
    await press('Make it')
    expect(await asked(server)).toMatchObject({ scope: 'page', page: 4 })
  })

  it('as a workbook asks for no words and no paper', async () => {
    asking({ scope: 'all', title: 'Figures' })
    await press('Workbook (XLSX)', 'radio')
    expect(screen.queryByLabelText('Author')).toBeNull()
    expect(screen.queryByRole('combobox', { name: 'Paper' })).toBeNull()
    await unfold('Shows')
    expect(screen.queryByRole('option', { name: 'A page' })).toBeNull()
    expect(screen.getByText(/live formulas/)).toBeTruthy()
  })

  it('that is refused stays as it was filled in', async () => {
    const issues = [{ detail: 'It would show 90 charts.', remedy: 'Choose a group.', field: '' }]
    asking(
      { scope: 'all', title: 'All of it' },
      { 'POST /reports': new Refused(422, 'This is more than a report holds.', issues) },
    )
    await press('Make it')
    expect(await screen.findByText('This is more than a report holds.')).toBeTruthy()
    expect(screen.getByLabelText<HTMLInputElement>('Title').value).toBe('All of it')
    expect(address()).toBe('/marrowick')
  })
})

describe('the reports of a workspace', () => {
  const scheduled = [
    {
      ...{ id: 2, title: 'Monday sheet', says: 'Every Monday at 06:10, by mail to Isla Corrie' },
      ...{ next_at: '2026-11-09T06:10:00Z', last_report: 5, problem: '' },
    },
  ]
  const page = (rows: object[], answers: object = {}) => {
    const server = serve({
      ...known,
      'GET /reports': { reports: rows, count: rows.length },
      'GET /scheduled-reports': scheduled,
      ...answers,
    })
    show(<ReportsPage />)
    return server
  }

  it('say what each is, how large, and what it shows', async () => {
    page([report(1), report(2, { format: 'slides', pages: 1, shows: [], person: '' })])
    const list = await screen.findByRole('list', { name: 'Reports' })
    await screen.findByText('Report 1')
    const said = within(list)
      .getAllByRole('listitem')
      .map((item) => item.textContent)
    expect(said[0]).toContain('Report, 5 pages, 1 KPI · Isla Corrie, 2 Nov 2026')
    expect(said[1]).toContain('Slides, 1 slide · nobody, 2 Nov 2026')
    const file = screen.getAllByRole('link', { name: /^Take the/ })[0]?.getAttribute('href')
    expect(file).toBe('/api/v1/workspaces/marrowick/reports/1/file')
  })

  it('show how far one is, which can be cancelled, and why another was not made', async () => {
    const server = page(
      [
        report(1, { status: 'running', progress: 0.4, stage: 'Drawing Ramp cycle' }),
        report(2, { status: 'failed', problem: { title: 'There is nothing to show.' } }),
        report(3, { status: 'cancelled' }),
        report(4, { status: 'waiting', progress: 0 }),
      ],
      { 'POST /reports/1/cancel': {} },
    )
    expect(await screen.findByText('Drawing Ramp cycle')).toBeTruthy()
    expect(screen.getAllByRole('progressbar')[0]?.getAttribute('aria-valuenow')).toBe('40')
    expect(screen.getByText('Waiting')).toBeTruthy()
    expect(screen.getByText('Not made: There is nothing to show.')).toBeTruthy()
    expect(screen.getByText('Cancelled')).toBeTruthy()
    expect(screen.queryByRole('link', { name: /^Take the/ })).toBeNull()
    const [first] = screen.getAllByRole('button', { name: 'Cancel' })
    first?.click()
    await waitFor(() => expect(server.of('POST /reports/1/cancel')).toHaveLength(1))
  })

  it('are also made by themselves, until somebody ends that', async () => {
    const server = page([], { 'DELETE /scheduled-reports/2': undefined })
    expect(await screen.findByText(/Every Monday at 06:10/)).toBeTruthy()
    expect(screen.getByRole('link', { name: 'The last one' }).getAttribute('href')).toBe(
      '/marrowick/reports/5',
    )
    await press('Make Monday sheet by itself no more')
    await waitFor(() => expect(server.of('DELETE /scheduled-reports/2')).toHaveLength(1))
  })

  it('say how to begin where there are none', async () => {
    page([], { 'GET /scheduled-reports': [] })
    expect(await screen.findByText(/begins with what is shown there/)).toBeTruthy()
    expect(screen.queryByText('Made by themselves')).toBeNull()
  })
})
