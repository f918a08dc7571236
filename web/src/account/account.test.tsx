// @vitest-environment jsdom
// People and tokens: who may do what with them, and what is told once.
import { act } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { answerDoor, letIn } from '../api/doorkeeper.ts'
import {
  choose,
  press,
  Refused,
  row,
  screen,
  screens,
  serve,
  show,
  type,
  unfold,
  waitFor,
} from '../shared/screen.test-data.tsx'
import { AccountPage, browserName } from './AccountPage.tsx'
import { Door } from './Door.tsx'
import { PeoplePage } from './PeoplePage.tsx'
import { TokensPage } from './TokensPage.tsx'

screens()

const people = {
  people: [
    { id: 1, name: 'Isla Corrie', email: 'isla@marrowick.example', role: 'owner', you: true },
    { id: 2, name: 'Tam Reid', email: '', role: 'editor', you: false },
  ],
  invitations: [
    {
      ...{ id: 7, email: 'mo@marrowick.example', role: 'viewer', invited_by: 'Isla Corrie' },
      ...{ expires: '2026-11-12T09:00:00Z', expired: false },
    },
    {
      ...{ id: 8, email: 'ada@marrowick.example', role: 'editor', invited_by: '' },
      ...{ expires: '2026-10-12T09:00:00Z', expired: true },
    },
  ],
}
const record = {
  count: 1,
  audit_events: [
    { id: 1, at: '2026-11-02T09:00:00Z', person: '', text: 'Opened a link', address: '10.1.2.3' },
  ],
}
const off = { 'GET /second-step': { since: null, recovery_left: 0 } }
const known = { 'GET /people': people, 'GET /record': record }

describe('people', () => {
  it('are those of owners to see to; others see what they are, and can leave', async () => {
    const server = serve({ 'POST /leave': new Refused(409, 'You are the last owner.') })
    show(<PeoplePage />, { role: 'contributor' })
    expect(await screen.findByText(/You are contributor here/)).toBeTruthy()
    expect(screen.queryByRole('table')).toBeNull()
    expect(server.sent).toHaveLength(0)
    await press('Leave this workspace')
    await press('Leave')
    expect(await screen.findByText('You are the last owner.')).toBeTruthy()
  })

  it('stand with their roles, and who is invited with until when', async () => {
    serve(known)
    show(<PeoplePage />)
    expect((await row(/Isla Corrie \(you\)/)).at(-1)).toBe('')
    expect((await row(/^Tam Reid/))[1]).toBe('none')
    const cells = (await screen.findAllByRole('cell')).map((cell) => cell.textContent)
    expect(cells).toContain('invited by Isla Corrie, until 12 Nov 2026')
    expect(cells).toContain('invited by somebody, not taken in time')
    expect((await row('Somebody without an account')).at(-1)).toBe('10.1.2.3')
  })

  it('are given a role at once, and it is taken back where that is refused', async () => {
    const server = serve({
      ...known,
      'PATCH /people/2': new Refused(409, 'There must be an owner.'),
    })
    show(<PeoplePage />)
    await screen.findByRole('combobox', { name: 'Role of Tam Reid' })
    await choose('Role of Tam Reid', 'Viewer')
    await waitFor(() => expect(server.of('PATCH /people/2')[0]?.body).toEqual({ role: 'viewer' }))
    expect(await screen.findByText('There must be an owner.')).toBeTruthy()
    const role = screen.getByRole<HTMLInputElement>('combobox', { name: 'Role of Tam Reid' })
    await waitFor(() => expect(role.value).toBe('Editor'))
  })

  it('are removed once that is confirmed, and not before', async () => {
    const server = serve({ ...known, 'DELETE /people/2': undefined })
    show(<PeoplePage />)
    await press('Remove Tam Reid')
    expect(await screen.findByText(/What they said and did\s+stays/)).toBeTruthy()
    expect(server.of('DELETE /people/2')).toHaveLength(0)
    screen.getAllByRole('button', { name: 'Remove Tam Reid' }).at(-1)?.click()
    await waitFor(() => expect(server.of('DELETE /people/2')).toHaveLength(1))
    // The record has one line more then.
    await waitFor(() => expect(server.of('GET /record')).toHaveLength(2))
  })

  it('are invited with an address that is told once', async () => {
    const server = serve({
      ...known,
      'POST /invitations': {
        ...{ invitation: people.invitations[0], address: 'https://fluctus.example/join/abc' },
      },
    })
    show(<PeoplePage />)
    await screen.findByLabelText('Invite by mail')
    type('Invite by mail', ' mo@marrowick.example ')
    await choose('As', 'Contributor')
    await press('Invite')
    await waitFor(() => expect(server.of('POST /invitations')).toHaveLength(1))
    expect(server.of('POST /invitations')[0]?.body).toEqual({
      ...{ email: 'mo@marrowick.example', role: 'contributor' },
    })
    expect(await screen.findByText('https://fluctus.example/join/abc')).toBeTruthy()
    expect(screen.getByLabelText<HTMLInputElement>('Invite by mail').value).toBe('')
  })

  it('end a workspace by typing its name, letter by letter', async () => {
    const server = serve({ ...known, 'DELETE ': new Refused(403, 'Owners do that.') })
    show(<PeoplePage />)
    await press('End this workspace…')
    const end = await screen.findByRole('button', { name: 'End the workspace' })
    for (const typed of ['', 'marrowick ferries', 'Marrowick Ferry']) {
      type('Type Marrowick Ferries to end it', typed)
      expect(end.hasAttribute('disabled')).toBe(true)
    }
    type('Type Marrowick Ferries to end it', 'Marrowick Ferries')
    expect(end.hasAttribute('disabled')).toBe(false)
    end.click()
    expect(await screen.findByText('Owners do that.')).toBeTruthy()
    expect(server.of('DELETE ')[0]?.query).toEqual({ name: 'Marrowick Ferries' })
  })
})

describe('tokens', () => {
  const token = (id: number, more: object = {}) => ({
    ...{ id, name: `Meter ${id}`, role: 'viewer', hint: 'fluctus_ab', person: 'Isla Corrie' },
    ...{ yours: true, made_at: '2026-11-02T09:00:00Z', used: null, expires: null, ...more },
  })
  const kpis = { 'GET /kpis': { kpis: [{ slug: 'ramp', name: 'Ramp cycle' }], count: 1 } }

  it('are told once, in the examples as well, and never more than one may', async () => {
    const server = serve({
      ...kpis,
      'GET /tokens': [],
      'POST /tokens': { token: token(1), secret: 'fluctus_secret' },
    })
    show(<TokensPage />, { role: 'contributor' })
    expect(await screen.findByText('No tokens yet.')).toBeTruthy()
    await unfold('As')
    const offered = (await screen.findAllByRole('option')).map((option) => option.textContent)
    expect(offered).toEqual(['Viewer', 'Contributor'])
    type('What is it for?', ' Ramp meter ')
    await press('Make a token')
    await waitFor(() => expect(server.of('POST /tokens')).toHaveLength(1))
    expect(server.of('POST /tokens')[0]?.body).toEqual({ name: 'Ramp meter', role: 'viewer' })
    expect(await screen.findByText('fluctus_secret')).toBeTruthy()
    expect(screen.getByText(/export FLUCTUS_TOKEN='fluctus_secret'/)).toBeTruthy()
    expect(screen.getByText(/# What the chart of Ramp cycle says/)).toBeTruthy()
  })

  it('say when each was used, until when it holds, and are revoked', async () => {
    const server = serve({
      ...kpis,
      'GET /tokens': [
        token(1, { used: '2026-11-05T10:00:00Z', expires: '2027-11-02T09:00:00Z' }),
        token(2, { role: 'contributor' }),
      ],
      'DELETE /tokens/2': undefined,
    })
    show(<TokensPage />)
    const first = await row('Meter 1')
    expect(first.slice(1, 3)).toEqual(['fluctus_ab…', 'Viewer'])
    expect(first[4]).toContain('5 Nov 2026')
    expect(first[5]).toBe('2 Nov 2027')
    expect((await row('Meter 2')).slice(4)).toEqual(['not yet', 'revoked', 'Revoke'])
    await press('Revoke Meter 2')
    await waitFor(() => expect(server.of('DELETE /tokens/2')).toHaveLength(1))
    await waitFor(() => expect(server.of('GET /tokens')).toHaveLength(2))
  })

  it('are not offered as contributors to who only looks', async () => {
    serve({ ...kpis, 'GET /tokens': [] })
    show(<TokensPage />, { role: 'viewer' })
    await screen.findByText('No tokens yet.')
    await unfold('As')
    expect((await screen.findAllByRole('option')).map((one) => one.textContent)).toEqual(['Viewer'])
  })
})

describe("one's own account", () => {
  const browser = (id: number, more: object = {}) => ({
    ...{ id, browser: 'Mozilla/5.0 (X11; Linux x86_64) Gecko/20100101 Firefox/140.0' },
    ...{ address: '10.1.2.3', began: '2026-11-02T09:00:00Z', seen: '2026-11-05T10:00:00Z' },
    ...{ this: false, ...more },
  })

  it('names browsers as people do, whatever they claim to be as well', () => {
    const chrome = 'Mozilla/5.0 (Windows NT 10.0) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
    expect(browserName(chrome)).toBe('Chrome on Windows')
    expect(browserName(`${chrome} Edg/140.0`)).toBe('Edge on Windows')
    expect(browserName(`${chrome} OPR/120.0`)).toBe('Opera on Windows')
    expect(browserName('Mozilla/5.0 (iPhone; CPU OS 19) Version/19 Safari/604.1')).toBe(
      'Safari on iPhone',
    )
    expect(browserName('Mozilla/5.0 (Linux; Android 16) Firefox/140.0')).toBe('Firefox on Android')
    expect(browserName('curl/8.5.0')).toBe('curl/8.5.0')
    expect(browserName('')).toBe('A browser that does not name itself')
  })

  it('changes its password by the one before, and says that others are signed out', async () => {
    const server = serve({
      ...off,
      'GET /browsers': [browser(1, { this: true })],
      'POST /password': ({ body }: { body: { old: string } }) =>
        body.old === 'quay-side' ? {} : new Refused(403, 'That is not your password.'),
    })
    show(<AccountPage />)
    const change = await screen.findByRole('button', { name: 'Change the password' })
    expect(change.hasAttribute('disabled')).toBe(true)
    type('Your password now', 'a guess')
    type('New password', 'lane-and-ramp')
    change.click()
    expect(await screen.findByText('That is not your password.')).toBeTruthy()
    expect(screen.getByLabelText<HTMLInputElement>('New password').value).toBe('lane-and-ramp')
    type('Your password now', 'quay-side')
    change.click()
    expect(await screen.findByText(/other browsers are signed out/)).toBeTruthy()
    expect(screen.getByLabelText<HTMLInputElement>('New password').value).toBe('')
    await waitFor(() => expect(server.of('GET /browsers')).toHaveLength(2))
  })

  it('signs out others one by one or all, and never this one', async () => {
    const server = serve({
      ...off,
      'GET /browsers': [browser(1, { this: true }), browser(2), browser(3)],
      'DELETE /browsers/2': undefined,
      'DELETE /browsers': undefined,
    })
    show(<AccountPage />)
    const out = await screen.findAllByRole('button', { name: /^Sign out Firefox on Linux/ })
    expect(out).toHaveLength(2)
    out[0]?.click()
    await waitFor(() => expect(server.of('DELETE /browsers/2')).toHaveLength(1))
    await press('Sign all others out')
    await waitFor(() => expect(server.of('DELETE /browsers')).toHaveLength(1))
  })

  it('is ended once that is confirmed, and can be kept', async () => {
    const server = serve({
      ...off,
      'GET /browsers': [browser(1, { this: true })],
      'DELETE /account': new Refused(409, 'You are the last owner of Marrowick Ferries.'),
    })
    show(<AccountPage />)
    await press('End my account…')
    await press('Keep it')
    expect(server.of('DELETE /account')).toHaveLength(0)
    await press('End my account…')
    await press('End my account')
    expect(await screen.findByText('You are the last owner of Marrowick Ferries.')).toBeTruthy()
  })

  it('takes a second step: the codes for later stand there once, and it can be ended', async () => {
    let on = false
    const server = serve({
      'GET /browsers': [browser(1, { this: true })],
      'GET /second-step': () =>
        on ? { since: '2026-11-02T09:00:00Z', recovery_left: 10 } : off['GET /second-step'],
      'POST /second-step': { secret: 'ABCDEFGH', picture: 'data:image/svg+xml,' },
      'PUT /second-step': ({ body }: { body: unknown }) => {
        if ((body as { code: string }).code !== '123456') return new Refused(403, 'Not the code.')
        on = true
        return { recovery: ['aaaa-bbbb-cccc', 'dddd-eeee-ffff'] }
      },
      'DELETE /second-step': undefined,
    })
    show(<AccountPage />)
    await press('Set it up…')
    expect(await screen.findByText('ABCD EFGH')).toBeTruthy()
    type('Code', '000000')
    await press('Switch it on')
    expect(await screen.findByText('Not the code.')).toBeTruthy()
    type('Code', '123456')
    await press('Switch it on')
    expect(await screen.findByText('aaaa-bbbb-cccc dddd-eeee-ffff')).toBeTruthy()
    await press('I have kept them')
    expect(await screen.findByText(/10 recovery codes left/)).toBeTruthy()
    await press('Switch it off')
    expect(server.of('DELETE /second-step')).toHaveLength(1)
  })
})

describe('the door', () => {
  it('asks for a code after the password, again after a wrong one, and for both when it is late', async () => {
    const codes = [new Refused(403, 'This is not the code.'), new Refused(409, 'Sign in again.')]
    const server = serve({
      'POST /session': { person: null, username: null, workspaces: [], asks_code: true },
      'POST /session/code': () => codes.shift(),
    })
    show(<Door />)
    act(() => void letIn('sign-in'))
    type('Password', 'quay-side')
    await press('Go on')
    expect(await screen.findByLabelText('Code')).toBeTruthy()
    type('Code', '000000')
    await press('Go on')
    expect(await screen.findByText('This is not the code.')).toBeTruthy()
    type('Code', 'aaaa-bbbb-cccc')
    await press('Go on')
    expect(await screen.findByLabelText('Password')).toBeTruthy()
    expect(server.of('POST /session/code').map(({ body }) => body)).toEqual([
      { code: '000000' },
      { code: 'aaaa-bbbb-cccc' },
    ])
    act(() => answerDoor(false))
  })
})
