// @vitest-environment jsdom
// A table on its way: pasted, sent, read in the background, saved, followed; and the words for it.
import { fireEvent } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import {
  address,
  press,
  Refused,
  screen,
  screens,
  serve,
  show,
  type,
  waitFor,
} from '../shared/screen.test-data.tsx'
import { IntakePage } from './IntakePage.tsx'
import { Source } from './Source.tsx'
import { UnderWay } from './UnderWay.tsx'
import type { Reading, Uploaded } from './understood/table.ts'
import { useSave } from './useSave.ts'
import { facts, inWords, saveWords } from './words.ts'

screens()

const uploaded = {
  ...{ id: 5, name: 'weekly.csv', sheets: [], last: null, last_import: null, recognized: null },
  ...{ differs: [], sheet_rows: [], being_read: false },
} as Uploaded
const kpis = { kpis: [{ slug: 'ramp', name: 'Ramp cycle', group: '' }], count: 1 }

describe('a table', () => {
  const pasted = (data: Record<string, string>, files: File[] = []) => {
    const given: { text?: string; file?: File }[] = []
    show(
      <Source
        workspace="marrowick"
        busy={false}
        onTable={(one) => given.push(one)}
        onLooked={null}
      />,
    )
    fireEvent.paste(screen.getByLabelText('Paste the table here'), {
      clipboardData: { files, getData: (kind: string) => data[kind] ?? '' },
    })
    return given
  }

  it('that is pasted is taken at once: its cells, or of a web page the table itself', () => {
    serve({})
    const cells = { 'text/plain': 'week\tmin\n1\t2', 'text/html': '<table><td>1</table>' }
    expect(pasted(cells)).toEqual([{ text: 'week\tmin\n1\t2' }])
  })

  it('from a web page is the table of the page, which its text has lost', () => {
    serve({})
    const html = '<p>Figures</p><table><tr><td>1</td></tr></table>'
    expect(pasted({ 'text/plain': 'Figures 1', 'text/html': html })).toEqual([{ text: html }])
  })

  it('that was copied as a file is that file, and nothing at all is left alone', () => {
    serve({})
    const file = new File(['a'], 'weekly.csv')
    expect(pasted({ 'text/plain': 'weekly.csv' }, [file])).toEqual([{ file }])
  })

  it('is no table where nothing was copied', () => {
    serve({})
    expect(pasted({ 'text/plain': '  ' })).toEqual([])
  })

  it('that takes long is asked for until it has been read, and can be given up', async () => {
    const server = serve({
      'GET /kpis': kpis,
      'POST /uploads': { ...uploaded, being_read: true },
      'GET /uploads/5': { ...uploaded, being_read: true },
      'DELETE /uploads/5': undefined,
    })
    show(<IntakePage />, { at: '/marrowick/new', path: '/:workspace/new' })
    type('Paste the table here', 'week\tmin\n2026-01-05\t22')
    await press('Read this table')
    expect(await screen.findByText(/takes a while to read/)).toBeTruthy()
    await press('Stop reading it')
    await waitFor(() => expect(server.of('DELETE /uploads/5')).toHaveLength(1))
    expect(await screen.findByLabelText('Paste the table here')).toBeTruthy()
  })

  it('that is refused says which row, and what was pasted is still there', async () => {
    const issues = [{ detail: 'There is a header, but no rows.', remedy: 'Add some.', field: '' }]
    serve({ 'GET /kpis': kpis, 'POST /uploads': new Refused(422, 'No table was found.', issues) })
    const into = { at: '/marrowick/charts/ramp/add', path: '/:workspace/charts/:kpi/add' }
    show(<IntakePage />, into)
    expect(await screen.findByText('Add data to Ramp cycle')).toBeTruthy()
    // Into a KPI that is there no feed is set up.
    expect(screen.queryByText(/Fetch it from an address/)).toBeNull()
    type('Paste the table here', 'week\tmin')
    await press('Read this table')
    expect(await screen.findByText('No table was found.')).toBeTruthy()
    const box = screen.getByLabelText<HTMLTextAreaElement>('Paste the table here')
    expect(box.value).toBe('week\tmin')
  })
})

describe('a table that is saved', () => {
  const part = (slug: string, more: object = {}) => ({
    ...{ slug, name: slug.toUpperCase(), counts: { new: 3, changed: 0, same: 0 }, ...more },
  })
  const plan = { name: 'Weekly', schedule: { every: 'day' } as never, zone: 'Europe/London' }
  function Saving(props: { into?: string; goal?: boolean; feed?: never; log?: number[] }) {
    const { save, saving, refused } = useSave({
      ...{ workspace: 'marrowick', uploaded, feed: props.feed ?? null, plan, mapping: {} },
      ...{ into: props.into ?? null, mode: 'update', goal: props.goal ?? false },
      onWaiting: (number) => props.log?.push(number),
    })
    return (
      <button type="button" onClick={save}>
        {refused ? refused.message : saving ? 'Saving' : 'Save'}
      </button>
    )
  }
  const saved = async (answer: unknown, props: Parameters<typeof Saving>[0] = {}) => {
    const server = serve({
      ...{ 'POST /uploads/5/import': answer, 'POST /feeds/3/set-up': answer },
      'POST /feeds/4/learn': answer,
    })
    show(<Saving {...props} />)
    await press('Save')
    return server
  }

  it('leads to its chart', async () => {
    const server = await saved({ id: 1, status: 'done', parts: [part('ramp')] })
    await waitFor(() => expect(address()).toBe('/marrowick/charts/ramp'))
    expect(server.of('POST /uploads/5/import')[0]?.body).toEqual({
      ...{ mapping: {}, into: null, mode: 'update' },
    })
  })

  it('as several KPIs leads to the first, and offers to compare them', async () => {
    await saved({ id: 1, status: 'done', parts: [part('ramp'), part('wait')] })
    await waitFor(() => expect(address()).toBe('/marrowick/charts/ramp'))
    await press('Compare them')
    await waitFor(() => expect(address()).toBe('/marrowick/compare/goal?kpi=ramp&kpi=wait'))
  })

  it('into a KPI says how much was new', async () => {
    await saved({ id: 1, status: 'done', parts: [part('ramp')] }, { into: 'ramp' })
    expect(await screen.findByText('3 new values, 0 changed, 0 the same.')).toBeTruthy()
  })

  it('of people with a goal is looked at side by side', async () => {
    await saved({ id: 1, status: 'done', parts: [part('calls')] }, { goal: true })
    await waitFor(() =>
      expect(address()).toBe('/marrowick/compare/parts?plot=one&weeks=all&kpi=calls'),
    )
  })

  it('that is long is followed, and leads nowhere yet', async () => {
    const log: number[] = []
    await saved({ id: 12, status: 'waiting', parts: [] }, { log })
    await waitFor(() => expect(log).toEqual([12]))
    expect(address()).toBe('/marrowick')
  })

  it('for a feed sets it up by its plan, or lets it learn', async () => {
    const feed = { draft: 3, name: 'Weekly' } as never
    const server = await saved({ feed: 8, brought: 1, under_way: false }, { feed })
    await waitFor(() => expect(address()).toBe('/marrowick/feeds/8'))
    expect(server.of('POST /feeds/3/set-up')[0]?.body).toMatchObject({
      ...{ name: 'Weekly', time_zone: 'Europe/London', upload: 5, into: null },
    })
  })

  it('for a feed of another shape goes back to that feed', async () => {
    const server = await saved({}, { feed: { learns: 4, name: '' } as never })
    await waitFor(() => expect(address()).toBe('/marrowick/feeds/4'))
    expect(server.of('POST /feeds/4/learn')).toHaveLength(1)
  })

  it('in vain says why, and stays', async () => {
    await saved(new Refused(409, 'Somebody has changed it meanwhile.'))
    expect(await screen.findByText('Somebody has changed it meanwhile.')).toBeTruthy()
    expect(address()).toBe('/marrowick')
  })
})

describe('an import under way', () => {
  const row = (more: object) => ({ id: 7, progress: 0.42, stage: '', parts: [], ...more })
  const follow = (answer: unknown, more: object = {}) => {
    const server = serve({ 'GET /imports/7': answer, ...more })
    show(<UnderWay workspace="marrowick" number={7} title="New KPI" />)
    return server
  }

  it('says how far it is, and can be cancelled', async () => {
    const server = follow(row({ status: 'running', stage: 'Reading rows' }), {
      'POST /imports/7/cancel': {},
    })
    expect(await screen.findByText('Reading rows…')).toBeTruthy()
    const bar = screen.getByRole('progressbar', { name: 'How far the import is' })
    expect(bar.getAttribute('aria-valuenow')).toBe('42')
    await press('Cancel the import')
    await waitFor(() => expect(server.of('POST /imports/7/cancel')).toHaveLength(1))
  })

  it('leads to all that came of it', async () => {
    const parts = [
      { slug: 'ramp', name: 'Ramp', counts: { new: 1200 } },
      { slug: null, name: 'Gone', counts: { new: 1 } },
    ]
    follow(row({ status: 'done', parts }))
    expect(await screen.findByText(/Ramp, 1,200 new values; Gone, 1 new value/)).toBeTruthy()
    expect(screen.getByRole('link', { name: 'Open Ramp' }).getAttribute('href')).toBe(
      '/marrowick/charts/ramp',
    )
    expect(screen.queryByRole('link', { name: 'Open Gone' })).toBeNull()
  })

  it('that was cancelled or refused has saved nothing, and says so', async () => {
    follow(row({ status: 'cancelled' }))
    expect(await screen.findByText('Cancelled; nothing was saved.')).toBeTruthy()
    expect(screen.getByRole('link', { name: 'All imports' })).toBeTruthy()
  })

  it('that was refused says why', async () => {
    follow(row({ status: 'failed', problem: { title: 'Too many KPIs.', issues: [] } }))
    expect(await screen.findByText('Too many KPIs.')).toBeTruthy()
  })
})

describe('the words for a table', () => {
  const read = (more: object = {}) =>
    ({
      ...{ sheets: ['A'], format: 'CSV', sheet: 'A', row_count: 1200, encoding: 'utf-8' },
      ...{ missing: 0, sorted_here: false, difference: null },
      ...{ kpis: [{ choice: { include: true }, value_count: 52 }], ...more },
    }) as unknown as Reading
  const counts = { new: 2, changed: 3, same: 5, missing: 4 }
  const difference = { counts }

  it('of saving say how much of it', () => {
    expect(saveWords(read(), 1, null, 'update')).toBe('Save 52 values as a KPI')
    expect(saveWords(read(), 3, null, 'update')).toBe('Save 3 KPIs')
    expect(saveWords(read(), 1, 'ramp', 'update')).toBe('Save')
    const of = (mode: 'add' | 'update' | 'replace') =>
      saveWords(read({ difference }), 1, 'ramp', mode)
    expect([of('add'), of('update'), of('replace')]).toEqual([
      ...['Add 2 new values', 'Save 5 values', 'Replace with 10 values'],
    ])
    const same = { counts: { new: 0, changed: 0, same: 9, missing: 0 } }
    expect(saveWords(read({ difference: same }), 1, 'ramp', 'update')).toBe('Nothing to save')
  })

  it('of what was found leave out what is as everywhere', () => {
    expect(facts(read(), { ...uploaded, name: '' })).toBe('a paste · CSV · 1,200 rows')
    const odd = { sheets: ['A', 'B'], sheet: 'B', format: 'XLSX', encoding: 'cp1252', missing: 3 }
    expect(facts(read({ ...odd, row_count: 1, sorted_here: true }), uploaded)).toBe(
      'weekly.csv · XLSX, B · 1 row · cp1252 · 3 without a value · sorted by date',
    )
    expect(inWords(undefined)).toBe('Saved.')
  })
})
