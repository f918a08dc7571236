// @vitest-environment jsdom
// Pages: made, changed on the revision that is shown, undone, handed over, deleted once confirmed.
import { fireEvent } from '@testing-library/react'
import { describe, expect, it, vi } from 'vitest'
import {
  address,
  press,
  Refused,
  type Server,
  screen,
  screens,
  serve,
  show,
  type,
  waitFor,
} from '../shared/screen.test-data.tsx'
import { PagesPage } from './PagesPage.tsx'
import type { PageDetail } from './pages.ts'
import { SheetPage } from './SheetPage.tsx'

// What panels show, and how they are moved by hand, is tried elsewhere.
vi.mock('./Sheet.tsx', () => ({
  Sheet: ({ page, onWrite }: { page: PageDetail; onWrite: (key: string) => void }) =>
    page.panels.map(({ key, text }) => (
      <button key={key} type="button" onClick={() => onWrite(key)}>
        {text || key}
      </button>
    )),
}))
screens()

const panel = (key: string, more: object = {}) => ({
  ...{ key, kind: 'chart', kpis: ['ramp'], names: ['Ramp cycle'], gone: [], text: '', view: '' },
  ...{ group: '', dates: null, x: 0, y: 0, w: 2, h: 8, options: { goal: null }, ...more },
})
const page = (more: object = {}) => ({
  ...{ id: 4, title: 'Monday', equal_axes: false, dates: { weeks: 26 }, revision: 7 },
  history: { undo: 'Added a chart', redo: null },
  panels: [panel('a'), panel('b', { kind: 'text', kpis: [], names: [], text: 'Hello', y: 8 })],
  ...more,
})
const sheet = { at: '/marrowick/pages/4', path: '/:workspace/pages/:number' }

function open(answers: object = {}, role: 'editor' | 'viewer' | 'owner' = 'owner'): Server {
  const server = serve({ 'GET /pages/4': page(), ...answers })
  show(<SheetPage />, { ...sheet, role })
  return server
}

const changes = async (server: Server) => {
  await waitFor(() => expect(server.of('PATCH /pages/4')).toHaveLength(1))
  return server.of('PATCH /pages/4')[0] as Server['sent'][number]
}

describe('the pages of a workspace', () => {
  it('are made by their title, and opened', async () => {
    const server = serve({ 'GET /pages': { pages: [], count: 0 }, 'POST /pages': { id: 9 } })
    show(<PagesPage />)
    expect(await screen.findByText(/No pages yet/)).toBeTruthy()
    const make = screen.getByRole('button', { name: 'Make a page' })
    expect(make.hasAttribute('disabled')).toBe(true)
    type('Title of a new page', '  Monday at the quays ')
    make.click()
    await waitFor(() => expect(address()).toBe('/marrowick/pages/9'))
    expect(server.of('POST /pages')[0]?.body).toEqual({ title: 'Monday at the quays', panels: [] })
  })

  it('are only looked at by who only looks', async () => {
    const row = { id: 4, title: 'Monday', panels: 3, changed_at: '2026-11-02T09:00:00Z' }
    serve({ 'GET /pages': { pages: [row], count: 1 } })
    show(<PagesPage />, { role: 'viewer' })
    expect(await screen.findByText(/3 panels · 2 Nov 2026/)).toBeTruthy()
    expect(screen.queryByLabelText('Title of a new page')).toBeNull()
  })
})

describe('a page', () => {
  it('is called something else while it is arranged, on the revision that is shown', async () => {
    const server = open({ 'PATCH /pages/4': page({ title: 'Tuesday', revision: 8 }) })
    expect(await screen.findByRole('heading', { name: 'Monday' })).toBeTruthy()
    expect(screen.getByText('Last 26 weeks')).toBeTruthy()
    await press('Arrange')
    type('Title', ' Tuesday ')
    fireEvent.blur(screen.getByLabelText('Title'))
    const sent = await changes(server)
    expect([sent.body, sent.headers]).toEqual([{ title: 'Tuesday' }, { 'If-Match': '"7"' }])
    await press('Done')
    expect(await screen.findByRole('heading', { name: 'Tuesday' })).toBeTruthy()
  })

  it('takes equal axes while it is arranged, and no empty title', async () => {
    const server = open({ 'PATCH /pages/4': page({ equal_axes: true, revision: 8 }) })
    await press('Arrange')
    type('Title', '   ')
    fireEvent.blur(screen.getByLabelText('Title'))
    await press('Equal axes', 'switch')
    expect((await changes(server)).body).toEqual({ equal_axes: true })
  })

  it('takes words below what there is, and other words in place of some', async () => {
    const server = open({ 'PATCH /pages/4': page({ revision: 8 }) })
    await press('Add text')
    const keep = await screen.findByRole('button', { name: 'Keep the text' }, { timeout: 5000 })
    expect(keep.hasAttribute('disabled')).toBe(true)
    fireEvent.change(screen.getByRole('textbox', { name: 'Text' }), { target: { value: '# News' } })
    await press('Keep the text')
    const { panels } = (await changes(server)).body as { panels: ReturnType<typeof panel>[] }
    expect(panels.map(({ key }) => key).slice(0, 2)).toEqual(['a', 'b'])
    expect(panels[2]).toMatchObject({ kind: 'text', text: '# News', x: 0, y: 16, w: 2 })
    // What the server adds of its own is not sent back to it.
    expect(panels[0]).not.toHaveProperty('gone')
    await press('Hello')
    const box = await screen.findByRole('textbox', { name: 'Text' })
    fireEvent.change(box, { target: { value: 'Good day' } })
    fireEvent.keyDown(box, { key: 'Enter', ctrlKey: true })
    await waitFor(() => expect(server.of('PATCH /pages/4')).toHaveLength(2))
    const second = server.of('PATCH /pages/4')[1]
    expect(second?.body).toMatchObject({ panels: [{}, { text: 'Good day' }] })
    expect(second?.headers).toEqual({ 'If-Match': '"8"' })
  })

  it('that somebody has changed meanwhile comes in anew, and nothing of theirs is dropped', async () => {
    const stale = new Refused(412, 'Tam Reid has changed this page.')
    const server = open({ 'PATCH /pages/4': stale })
    await press('Hello')
    const box = await screen.findByRole('textbox', { name: 'Text' }, { timeout: 5000 })
    fireEvent.change(box, { target: { value: 'Good day' } })
    await press('Keep the text')
    expect(await screen.findByText('Tam Reid has changed this page.')).toBeTruthy()
    await waitFor(() => expect(server.of('GET /pages/4')).toHaveLength(2))
    expect(server.of('PATCH /pages/4')).toHaveLength(1)
  })

  it('is undone by its button and by its keys, and says what that would undo', async () => {
    const undone = page({ revision: 8, history: { undo: null, redo: 'Added a chart' } })
    const server = open({ 'POST /pages/4/undo': undone, 'POST /pages/4/redo': page() })
    await press('Undo: Added a chart')
    expect(await screen.findByRole('button', { name: 'Redo: Added a chart' })).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Undo' }).hasAttribute('disabled')).toBe(true)
    fireEvent.keyDown(document.documentElement, { key: 'z', code: 'KeyZ', ctrlKey: true })
    fireEvent.keyDown(document.documentElement, {
      ...{ key: 'z', code: 'KeyZ', ctrlKey: true, shiftKey: true },
    })
    await waitFor(() => expect(server.of('POST /pages/4/redo')).toHaveLength(1))
    expect(server.of('POST /pages/4/undo')).toHaveLength(1)
  })

  it('is neither arranged nor undone by who only looks', async () => {
    const server = open({}, 'viewer')
    expect(await screen.findByRole('heading', { name: 'Monday' })).toBeTruthy()
    for (const name of ['Arrange', 'Add text', 'Undo: Added a chart'])
      expect(screen.queryByRole('button', { name })).toBeNull()
    fireEvent.keyDown(document.documentElement, { key: 'z', code: 'KeyZ', ctrlKey: true })
    await press('More')
    expect(await screen.findByRole('menuitem', { name: 'Report, slides…' })).toBeTruthy()
    expect(screen.queryByRole('menuitem', { name: /^Link for people/ })).toBeNull()
    expect(screen.queryByRole('menuitem', { name: /^Delete/ })).toBeNull()
    expect(server.sent.map(({ what }) => what)).toEqual(['GET /pages/4'])
  })

  it('tells what was done to it', async () => {
    const act = { id: 1, summary: 'Added a chart', author: 'Isla Corrie', at: '2026-11-02T09:00Z' }
    open({ 'GET /pages/4/history': [{ ...act, undone: true }] })
    await press('More')
    await press('History', 'menuitem')
    expect(await screen.findByText(/Added a chart \(undone\)/)).toBeTruthy()
  })

  it('is deleted once that is confirmed, and leads back to the others', async () => {
    const server = open({ 'DELETE /pages/4': undefined })
    await press('More')
    await press('Delete the page…', 'menuitem')
    expect(await screen.findByText(/The charts that it shows stay/)).toBeTruthy()
    expect(server.of('DELETE /pages/4')).toHaveLength(0)
    await press('Delete Monday')
    await waitFor(() => expect(address()).toBe('/marrowick/pages'))
    expect(server.of('DELETE /pages/4')[0]?.headers).toEqual({ 'If-Match': '"7"' })
  })

  it('that is empty says how it is filled', async () => {
    open({ 'GET /pages/4': page({ panels: [], dates: {} }) })
    expect(await screen.findByText(/Nothing is here yet/)).toBeTruthy()
    expect(screen.getByText('All dates')).toBeTruthy()
  })
})
