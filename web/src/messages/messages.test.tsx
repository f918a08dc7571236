// @vitest-environment jsdom
// Webhooks: made with a secret that is told once, tried, sent again, removed.
import { describe, expect, it } from 'vitest'
import {
  press,
  Refused,
  screen,
  screens,
  serve,
  show,
  type,
  waitFor,
} from '../shared/screen.test-data.tsx'
import { Webhooks } from './Webhooks.tsx'

screens()

const delivery = (id: number, more: object = {}) => ({
  ...{ id, what: 'Ramp cycle: above the upper limit', at: '2026-11-02T09:00:00Z', state: 'sent' },
  ...{ tries: 1, answer: '200 OK', ...more },
})
const hook = (id: number, more: object = {}) => ({
  ...{ id, name: `Hook ${id}`, address: 'https://office.example/hook', topics: ['shift'] },
  ...{ ended: '', deliveries: [], ...more },
})

describe('the webhooks of a workspace', () => {
  it('say what was sent, how often it was tried, and what came back', async () => {
    const deliveries = [
      delivery(1),
      delivery(2, { state: 'waiting', tries: 3, answer: '503 Service Unavailable' }),
      delivery(3, { state: 'abandoned', tries: 9, answer: 'No answer' }),
    ]
    const server = serve({
      'GET /webhooks': [hook(1, { deliveries }), hook(2, { ended: 'It is gone (410).' })],
      'POST /deliveries/3/again': {},
      'POST /webhooks/2/try': {},
    })
    show(<Webhooks workspace="marrowick" />)
    expect(await screen.findByText(/sent\. 200 OK/)).toBeTruthy()
    expect(screen.getByText(/waits after 3 tries\. 503/)).toBeTruthy()
    expect(screen.getByText(/given up after 9 tries\. No answer/)).toBeTruthy()
    expect(screen.getByText('Ended. It is gone (410). Try it to go on.')).toBeTruthy()
    // What still waits is sent by itself.
    const again = screen.getAllByRole('button', { name: 'Send again' })
    expect(again).toHaveLength(2)
    again[1]?.click()
    screen.getAllByRole('button', { name: 'Try it' })[1]?.click()
    await waitFor(() => expect(server.of('POST /deliveries/3/again')).toHaveLength(1))
    await waitFor(() => expect(server.of('POST /webhooks/2/try')).toHaveLength(1))
  })

  it('are made with what they are told, and a secret that is shown once', async () => {
    const server = serve({
      'GET /webhooks': [],
      'POST /webhooks': { webhook: hook(1), secret: 'whsec-0123' },
    })
    show(<Webhooks workspace="marrowick" />)
    expect(await screen.findByText('There is none.')).toBeTruthy()
    await press('Make a webhook')
    const make = await screen.findByRole('button', { name: 'Make it' })
    expect(make.hasAttribute('disabled')).toBe(true)
    type('Name', 'Booking office')
    type('Address', 'https://office.example/hook')
    expect(make.hasAttribute('disabled')).toBe(false)
    for (const topic of ['Beyond the limits', 'A shift waits for a decision'])
      await press(topic, 'checkbox')
    expect(make.hasAttribute('disabled')).toBe(true)
    await press('Data are late', 'checkbox')
    // What is of one person is told to no program of all.
    expect(screen.queryByRole('checkbox', { name: 'Assigned to me, or naming me' })).toBeNull()
    await press('Make it')
    await waitFor(() => expect(server.of('POST /webhooks')).toHaveLength(1))
    expect(server.of('POST /webhooks')[0]?.body).toEqual({
      ...{ name: 'Booking office', address: 'https://office.example/hook', topics: ['late'] },
    })
    expect(await screen.findByText('whsec-0123')).toBeTruthy()
    await press('Done')
    await waitFor(() => expect(screen.queryByText('whsec-0123')).toBeNull())
  })

  it('that reach inside are refused in the form', async () => {
    serve({
      'GET /webhooks': [],
      'POST /webhooks': new Refused(422, 'This address is not reached from here.'),
    })
    show(<Webhooks workspace="marrowick" />)
    await press('Make a webhook')
    type('Name', 'Ours')
    type('Address', 'https://10.0.0.1/hook')
    await press('Make it')
    expect(await screen.findByText('This address is not reached from here.')).toBeTruthy()
    expect(screen.getByLabelText<HTMLInputElement>('Address').value).toBe('https://10.0.0.1/hook')
  })

  it('go when they are removed, and a failure is told', async () => {
    const server = serve({
      'GET /webhooks': () => (server.of('DELETE /webhooks/1').length > 1 ? [] : [hook(1)]),
      'DELETE /webhooks/1': () =>
        server.of('DELETE /webhooks/1').length > 1 ? undefined : new Refused(503, 'Not just now.'),
    })
    show(<Webhooks workspace="marrowick" />)
    await press('Remove')
    expect(await screen.findByText('Not just now.')).toBeTruthy()
    expect(screen.getByText('Hook 1')).toBeTruthy()
    await press('Remove')
    expect(await screen.findByText('There is none.')).toBeTruthy()
  })
})
