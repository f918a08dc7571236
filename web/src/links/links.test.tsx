// @vitest-environment jsdom
// Links: made with what they show, told once, listed and revoked; opened with a password.
import { describe, expect, it } from 'vitest'
import {
  press,
  Refused,
  row,
  screen,
  screens,
  serve,
  show,
  type,
  waitFor,
} from '../shared/screen.test-data.tsx'
import { LinksPage } from './LinksPage.tsx'
import { type Named, NewLink } from './NewLink.tsx'
import { SharedPage } from './SharedPage.tsx'

screens()

const link = (id: number, more: object = {}) => ({
  ...{ id, kind: 'chart', title: `Chart ${id}`, person: 'Isla Corrie' },
  ...{ made_at: '2026-11-02T09:00:00Z', expires: '2026-12-02T09:00:00Z', has_password: false },
  ...{ embeddable: false, names: false, frozen: false, opened: 0, opened_at: null },
  ...{ status: 'open', shows: [], ...more },
})

describe('a new link', () => {
  const named: Named = { kind: 'chart', title: 'Ramp cycle', kpi: 'ramp' }
  const made = { link: link(1), address: 'https://fluctus.example/l/a-secret' }

  it('shows what is safe unless more is chosen, for thirty days', async () => {
    const server = serve({ 'POST /links': made })
    show(<NewLink workspace="marrowick" named={named} onClose={() => undefined} />)
    await press('Make the link')
    await waitFor(() => expect(server.of('POST /links')).toHaveLength(1))
    expect(server.of('POST /links')[0]?.body).toEqual({
      ...{ kind: 'chart', kpi: 'ramp', view: '', days: 30, password: '' },
      ...{ frozen: false, embeddable: false, names: false },
      // What is told with all KPIs may be of other people's matters.
      shows: ['notes', 'reasons', 'events'],
    })
    // Its address is on screen, and nothing is sent by closing.
    expect(await screen.findByText(made.address)).toBeTruthy()
    await press('Done')
    expect(server.sent).toHaveLength(1)
  })

  it('has what was chosen', async () => {
    const server = serve({ 'POST /links': made })
    show(<NewLink workspace="marrowick" named={named} onClose={() => undefined} />)
    type('Password, if it is to ask for one', 'quay-side')
    await press(/Keep showing what there is today/, 'checkbox')
    await press('notes at values', 'checkbox')
    await press('events that are told with all KPIs', 'checkbox')
    await press('Say who made it', 'checkbox')
    await press('Make the link')
    await waitFor(() => expect(server.of('POST /links')).toHaveLength(1))
    expect(server.of('POST /links')[0]?.body).toMatchObject({
      ...{ password: 'quay-side', frozen: true, names: true, embeddable: false },
      shows: ['reasons', 'events', 'everywhere'],
    })
  })

  it('to a report asks for nothing that a file has no part in', async () => {
    serve({})
    const report: Named = { kind: 'report', title: 'How it ran', report: 7 }
    show(<NewLink workspace="marrowick" named={report} onClose={() => undefined} />)
    expect(await screen.findByText('Say who made it')).toBeTruthy()
    expect(screen.queryByText(/Keep showing what there is today/)).toBeNull()
    expect(screen.queryByText('notes at values')).toBeNull()
  })

  it('that is refused says why, and keeps what was typed', async () => {
    const issues = [{ detail: 'Ten characters at least.', remedy: 'Take a longer one.', field: '' }]
    serve({ 'POST /links': new Refused(422, 'The password is too short.', issues) })
    show(<NewLink workspace="marrowick" named={named} onClose={() => undefined} />)
    type('Password, if it is to ask for one', 'short')
    await press('Make the link')
    expect(await screen.findByText('The password is too short.')).toBeTruthy()
    expect(screen.getByText(/Take a longer one/)).toBeTruthy()
    expect(screen.getByLabelText<HTMLInputElement>(/^Password/).value).toBe('short')
  })
})

describe('the links of a workspace', () => {
  const links = [
    link(1, { has_password: true, embeddable: true, opened: 2, opened_at: '2026-11-05T10:00Z' }),
    link(2, { frozen: true, expires: null }),
    link(3, { status: 'revoked' }),
    link(4, { status: 'expired', kind: 'page', title: 'Weekly' }),
  ]

  it('say how each opens, how often it was, and what became of it', async () => {
    serve({ 'GET /links': { links, frames: [] } })
    show(<LinksPage />)
    expect((await row('Chart: Chart 1')).slice(1, 5)).toEqual([
      'live, password, in frames',
      expect.stringContaining('Isla Corrie, '),
      'until 2 Dec 2026',
      expect.stringContaining('2 times, last 5 Nov 2026'),
    ])
    expect((await row('Chart: Chart 2')).slice(1, 5)).toEqual([
      ...['as it was', expect.anything(), 'until revoked', 'not yet'],
    ])
    expect((await row('Chart: Chart 3')).slice(3)).toEqual(['revoked', 'not yet', ''])
    // What has expired by itself can still be ended for good.
    expect((await row('Page: Weekly')).slice(3)).toEqual(['expired', 'not yet', 'Revoke'])
  })

  it('are revoked one by one, and listed anew', async () => {
    const server = serve({
      'GET /links': () => ({ links: server.of('DELETE /links/2').length ? [] : links, frames: [] }),
      'DELETE /links/2': undefined,
    })
    show(<LinksPage />)
    await press('Revoke the link to Chart 2')
    expect(await screen.findByText('No links yet.')).toBeTruthy()
    expect(server.of('GET /links')).toHaveLength(2)
  })

  it('let owners say which sites may frame them, and nobody else', async () => {
    serve({ 'GET /links': { links: [], frames: ['https://intranet.marrowick.example'] } })
    show(<LinksPage />, { role: 'editor' })
    expect(await screen.findByText('No links yet.')).toBeTruthy()
    expect(screen.queryByText('https://intranet.marrowick.example')).toBeNull()
  })
})

describe('what a link shows', () => {
  const shared = {
    ...{ kind: 'report', title: 'How it ran', workspace: 'Marrowick Ferries', by: '' },
    ...{ made_at: '2026-11-02T09:00:00Z', frozen: true, things: [], pages: 2, file: 'pdf' },
  }
  const opened = { at: '/l/a-secret', path: '/l/:secret' }

  it('is there at once, with the day that it is of', async () => {
    serve({ 'GET /shared/a-secret': shared })
    show(<SharedPage />, opened)
    expect(await screen.findByText('Marrowick Ferries · as of 2 Nov 2026')).toBeTruthy()
    expect(screen.getAllByRole('img')).toHaveLength(2)
    expect(screen.getByRole('link', { name: 'Take the PDF' }).getAttribute('href')).toBe(
      '/api/v1/shared/a-secret/file',
    )
  })

  it('asks for its password, says that one is wrong, and opens by the right one', async () => {
    const server = serve({
      'GET /shared/a-secret': ({ headers }: { headers: Record<string, string> }) =>
        headers['X-Link-Key'] === 'a key' ? shared : new Refused(401, 'It asks for a password.'),
      'POST /shared/a-secret/key': ({ body }: { body: { password: string } }) =>
        body.password === 'quay-side' ? { key: 'a key' } : new Refused(403, 'That is not it.'),
    })
    show(<SharedPage />, opened)
    await screen.findByText('Whoever sent it to you knows it.')
    type('Password', 'guess')
    await press('Open it')
    expect(await screen.findByText('That is not it.')).toBeTruthy()
    type('Password', 'quay-side')
    await press('Open it')
    expect(await screen.findByRole('heading', { name: 'How it ran' })).toBeTruthy()
    // The key opens the file as well, and the password is in no address.
    const file = screen.getByRole('link', { name: 'Take the PDF' }).getAttribute('href')
    expect(file).toBe('/api/v1/shared/a-secret/file?key=a%20key')
    expect(server.sent.every(({ what }) => !what.includes('quay-side'))).toBe(true)
  })

  it('says so where it opens no more', async () => {
    serve({ 'GET /shared/a-secret': new Refused(404, 'This link opens no more.') })
    show(<SharedPage />, opened)
    expect(await screen.findByText('This link opens no more.')).toBeTruthy()
    expect(screen.queryByLabelText('Password')).toBeNull()
  })
})
