// @vitest-environment jsdom
// A meeting: what its address names, in which order a page is gone through, and its keys.
import { fireEvent } from '@testing-library/react'
import { describe, expect, it, vi } from 'vitest'
import { chart } from '../chart/sample.test-data.ts'
import type { PageDetail } from '../pages/pages.ts'
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
import { MeetingPage } from './MeetingPage.tsx'
import { thingsIn, thingsOf } from './meeting.ts'

// What is drawn is tried elsewhere: here is which of the things it is, and which step of it.
vi.mock('./Shown.tsx', () => ({
  VIEW: {},
  OnScreen: ({ thing, step }: { thing?: { kpi?: string; text?: string }; step: number | null }) => (
    <output aria-label="On screen">{`${thing?.kpi ?? thing?.text ?? 'nothing'} ${step ?? 'whole'}`}</output>
  ),
}))
screens()

const panel = (more: object) => ({
  ...{ key: 'k', kind: 'chart', kpis: [], names: [], gone: [], text: '', view: '', group: '' },
  ...{ dates: null, x: 0, y: 0, w: 1, h: 4, options: {}, ...more },
})
const page = {
  ...{ id: 4, title: 'Weekly', equal_axes: false, dates: {}, revision: 1 },
  history: { undo: null, redo: null },
  panels: [
    panel({ y: 4, kpis: ['wait'], names: ['Lane wait'] }),
    panel({ kind: 'text', text: 'First of all', y: 0 }),
    panel({ y: 4, x: 1, kpis: ['ramp', 'gone'], names: ['Ramp', 'Gone'], gone: ['Gone'] }),
    panel({ kind: 'parts', y: 9, kpis: ['wait'], names: ['Lane wait'] }),
  ],
} as unknown as PageDetail

describe('what a meeting shows', () => {
  it('is what its address names, each with its view or finding', () => {
    const of = (text: string) => thingsIn(new URLSearchParams(text))
    expect(of('kpi=ramp&kpi=wait&view=&view=Year')).toEqual([
      ...[{ kpi: 'ramp' }, { kpi: 'wait', view: 'Year' }],
    ])
    expect(of('kpi=ramp&finding=7')).toEqual([{ kpi: 'ramp', finding: 7 }])
    expect(of('')).toEqual([])
    const asked = JSON.stringify({ kind: 'pair', kpis: ['ramp', 'wait'], options: { lag: 2 } })
    expect(of(`panel=${encodeURIComponent(asked)}`)).toMatchObject([
      { panel: { kind: 'pair', kpis: ['ramp', 'wait'], options: { lag: 2 }, dates: null } },
    ])
  })

  it('is not broken by an address that somebody has cut', () => {
    for (const cut of ['{"kind":"pa', 'null', '[]', '{}', '7', '"text"'])
      expect(thingsIn(new URLSearchParams({ panel: cut, kpi: 'ramp' }))).toEqual([{ kpi: 'ramp' }])
  })

  it('of a page is read as it is read: down, and across', () => {
    expect(thingsOf(page)).toMatchObject([
      ...[{ text: 'First of all' }, { kpi: 'wait' }, { kpi: 'ramp' }, { panel: { kind: 'parts' } }],
    ])
  })
})

describe('in a meeting', () => {
  const on = () => screen.getByLabelText('On screen').textContent
  const key = (name: string) => fireEvent.keyDown(document.body, { key: name })
  const room = (at: string, role: 'viewer' | 'editor' = 'editor') => {
    const server = serve({
      'GET /pages/4': page,
      'GET /kpis/ramp/build-up': { steps: [{}, {}, {}] },
      'GET /kpis/wait/build-up': { steps: [{}, {}] },
    })
    show(<MeetingPage />, { at, path: '/:workspace/meeting', role })
    return server
  }

  it('what comes next is one key or one press of a clicker away, and ends at its ends', async () => {
    room('/marrowick/meeting?kpi=ramp&kpi=wait')
    expect(on()).toBe('ramp whole')
    key('ArrowLeft')
    expect(on()).toBe('ramp whole')
    for (const [name, then] of [
      ...[
        ['ArrowRight', 'wait whole'],
        ['PageDown', 'wait whole'],
        ['PageUp', 'ramp whole'],
      ],
      ...[
        [' ', 'wait whole'],
        ['ArrowLeft', 'ramp whole'],
      ],
    ]) {
      key(name ?? '')
      expect(on()).toBe(then)
    }
    fireEvent.keyDown(document.body, { key: 'ArrowRight', ctrlKey: true })
    expect(on()).toBe('ramp whole')
    await press('Thing 2 of 2')
    expect(on()).toBe('wait whole')
  })

  it('a chart is built up step by step, and the next one from its beginning', async () => {
    const server = room('/marrowick/meeting?kpi=ramp&kpi=wait')
    expect(server.sent).toHaveLength(0)
    key('u')
    await screen.findByRole('button', { name: 'Step 3 of 3' })
    key('ArrowRight')
    key('ArrowRight')
    expect(on()).toBe('ramp 2')
    key('ArrowRight')
    expect(on()).toBe('wait 0')
    await screen.findByRole('button', { name: 'Step 2 of 2' })
    key('u')
    expect(on()).toBe('wait whole')
  })

  it('the screen is blanked and shown again, and Escape goes back one at a time', async () => {
    room('/marrowick/meeting?kpi=ramp')
    const blank = () => screen.queryByRole('button', { name: /The screen is blank/ })
    for (const name of ['b', '.', 'B']) {
      key(name)
      expect(blank()).not.toBeNull()
      key('Escape')
      expect(blank()).toBeNull()
      expect(address()).toContain('/meeting')
    }
    key('Escape')
    await waitFor(() => expect(address()).toBe('/marrowick/charts/ramp'))
  })

  it('of a page goes through it, and leads back to it', async () => {
    room('/marrowick/meeting?page=4')
    await waitFor(() => expect(on()).toBe('First of all whole'))
    // Words are not built up.
    expect(screen.queryByRole('button', { name: 'Build up (U)' })).toBeNull()
    key('ArrowRight')
    expect(on()).toBe('wait whole')
    expect(screen.getByRole('button', { name: 'Build up (U)' })).toBeTruthy()
    await press('Leave the meeting')
    await waitFor(() => expect(address()).toBe('/marrowick/pages/4'))
  })

  it('a shift is decided, with its reason, and taken back', async () => {
    const whole = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 8)
    const candidate = {
      period: whole.points.period[5],
      label: '10 Feb',
      position: 5,
      text: '5, before: 10.',
    }
    const asked = { ...whole, candidates: [candidate], history: { undo: null, redo: null } }
    const server = serve({
      'GET /kpis/ramp/analysis': asked,
      'GET /kpis/ramp/findings': [],
      'PATCH /kpis/ramp': { ...asked, candidates: [] },
      'POST /kpis/ramp/undo': asked,
    })
    show(<MeetingPage />, {
      at: '/marrowick/meeting?kpi=ramp',
      path: '/:workspace/meeting',
      role: 'editor',
    })
    key('w')
    fireEvent.click(await screen.findByRole('radio', { name: 'A shift' }))
    expect(await screen.findByText('5, before: 10.')).toBeTruthy()
    // Limits are kept for a reason only.
    expect(screen.getByRole('button', { name: 'Keep limits' })).toHaveProperty('disabled', true)
    type('What changed, or why the limits stay', 'New ramp motors')
    await press('Recalculate from 10 Feb')
    expect(await screen.findByText('Limits are recalculated from 10 Feb.')).toBeTruthy()
    const [sent] = server.of('PATCH /kpis/ramp')
    expect(sent?.body).toMatchObject({
      segments: [{ start: null }, { start: candidate.period, what_changed: 'New ramp motors' }, {}],
    })
    await press('Undo')
    expect(await screen.findByText('5, before: 10.')).toBeTruthy()
    type('What changed, or why the limits stay', 'A storm')
    await press('Keep limits')
    expect(await screen.findByText('It is on record that the limits stay.')).toBeTruthy()
    expect(server.of('PATCH /kpis/ramp')[1]?.body).toMatchObject({
      kept_limits: [{ period: candidate.period, reason: 'A storm' }],
    })
  })

  it('nothing is written down by who only looks', () => {
    room('/marrowick/meeting?kpi=ramp', 'viewer')
    expect(screen.queryByRole('button', { name: /Write down/ })).toBeNull()
    key('w')
    expect(screen.queryByRole('region', { name: 'Write down' })).toBeNull()
  })

  it('what is typed into a field is no key', () => {
    room('/marrowick/meeting?kpi=ramp&kpi=wait')
    const field = document.body.appendChild(document.createElement('input'))
    fireEvent.keyDown(field, { key: 'ArrowRight' })
    fireEvent.keyDown(field, { key: 'b' })
    field.remove()
    expect(on()).toBe('ramp whole')
    expect(screen.queryByRole('button', { name: /The screen is blank/ })).toBeNull()
  })

  it('a page that is gone says so, and can be asked for again', async () => {
    serve({ 'GET /pages/4': new Refused(404, 'This page is not here.') })
    show(<MeetingPage />, { at: '/marrowick/meeting?page=4', path: '/:workspace/meeting' })
    expect(await screen.findByText('This page is not here.')).toBeTruthy()
  })
})
