// @vitest-environment jsdom
// Where a table is fetched from, and when: what a form asks, and what it must not tell.
import { useState } from 'react'
import { describe, expect, it } from 'vitest'
import {
  choose,
  press,
  Refused,
  screen,
  screens,
  serve,
  show,
  type,
  waitFor,
} from '../shared/screen.test-data.tsx'
import { EVERY_WEEKDAY, type Schedule } from './feeds.ts'
import { momentIn, Plan } from './Plan.tsx'
import { WhereFrom } from './WhereFrom.tsx'

screens()

const looked = { draft: 3, name: 'weekly', uploaded: {} }

describe('where a table is fetched from', () => {
  const form = (
    feed?: Parameters<typeof WhereFrom>[0]['feed'],
    answer: unknown = looked,
    seen: unknown[] = [],
  ) => {
    const server = serve({ 'POST /feeds/look': answer })
    const onLooked = (one: unknown) => seen.push(one)
    show(<WhereFrom workspace="marrowick" onLooked={onLooked} {...(feed ? { feed } : {})} />)
    return server
  }
  const asked = async (server: ReturnType<typeof serve>) => {
    await press('Look at the table')
    await waitFor(() => expect(server.of('POST /feeds/look')).toHaveLength(1))
    return server.of('POST /feeds/look')[0]?.body as { where: Record<string, object> }
  }

  it('is an address that is asked as it is, unless more is told', async () => {
    const seen: unknown[] = []
    const server = form(undefined, looked, seen)
    const look = screen.getByRole('button', { name: 'Look at the table' })
    expect(look.hasAttribute('disabled')).toBe(true)
    type('Address of the table', 'https://office.example/weekly.csv')
    expect(await asked(server)).toEqual({
      feed: null,
      where: {
        address: {
          ...{ address: 'https://office.example/weekly.csv', query: [], headers: [] },
          ...{ sign_in: 'none', user: '', password: null, pages: 'none' },
          ...{ next_field: 'next', page_name: 'page', first_page: 1 },
        },
      },
    })
    await waitFor(() => expect(seen).toEqual([looked]))
  })

  it('may ask for a name and a password, or for a token', async () => {
    const server = form()
    type('Address of the table', 'https://office.example/weekly.csv')
    expect(screen.queryByRole('combobox', { name: 'Sign-in' })).toBeNull()
    await press('Sign-in, headers and pages')
    await choose('Sign-in', 'Name and password')
    type('Name', 'fluctus')
    type('Password', 'a-secret')
    await choose('Sign-in', 'Token (bearer)')
    expect(screen.queryByLabelText('Name')).toBeNull()
    type('Token', 'a-token')
    await choose('JSON in pages', 'Pages have numbers')
    type('Name of the number', 'p')
    expect((await asked(server)).where.address).toMatchObject({
      ...{ sign_in: 'bearer', password: 'a-token', pages: 'number', page_name: 'p' },
    })
  })

  it('is a database by host, or by a file of the server that has neither', async () => {
    const server = form()
    await press('A database', 'radio')
    expect(screen.getByLabelText('Host')).toBeTruthy()
    await choose('System', 'SQLite')
    expect(screen.queryByLabelText('Host')).toBeNull()
    expect(screen.queryByLabelText(/^Password/)).toBeNull()
    type('File of the server', 'quay.sqlite')
    const look = screen.getByRole('button', { name: 'Look at the table' })
    expect(look.hasAttribute('disabled')).toBe(true)
    type('Question', 'SELECT week, turnaround FROM quay_weeks')
    const { where } = await asked(server)
    expect(Object.keys(where)).toEqual(['database'])
    expect(where.database).toMatchObject({ system: 'sqlite', database: 'quay.sqlite' })
  })

  it('is a folder that was allowed, or says that this one is not', async () => {
    const seen: unknown[] = []
    const server = form(undefined, new Refused(422, 'This folder is not among those.'), seen)
    await press('A folder of the server', 'radio')
    type('Folder', '/etc')
    type('Files', '*.csv')
    expect((await asked(server)).where).toEqual({ folder: { folder: '/etc', files: '*.csv' } })
    expect(await screen.findByText('This folder is not among those.')).toBeTruthy()
    expect(seen).toEqual([])
  })

  it('of a feed that is there keeps its secrets, which it does not know', async () => {
    const options = {
      ...{ address: 'https://office.example/weekly.csv', sign_in: 'basic', user: 'fluctus' },
      query: [
        { name: 'year', value: '2026', secret: false },
        { name: 'key', value: '•••', secret: true },
      ],
      headers: [{ name: 'X-Key', value: '•••', secret: true }],
    }
    const server = form({ id: 7, source: 'address', options })
    // What is out of the ordinary is in sight.
    expect(screen.getByLabelText('Password').getAttribute('placeholder')).toBe('Kept as it is')
    type('Password', 'another')
    type('Password', '')
    expect(await asked(server)).toMatchObject({
      feed: 7,
      where: {
        address: {
          ...{ user: 'fluctus', password: null },
          query: [{ value: '2026' }, { name: 'key', value: null, secret: true }],
          headers: [{ name: 'X-Key', value: null }],
        },
      },
    })
  })
})

describe('when it is fetched', () => {
  const plan = (start: Partial<Schedule> = {}, answer: unknown = null) => {
    const said: [Schedule, string][] = []
    const server = serve({ 'POST /feeds/when': answer ?? when })
    function Planned() {
      const [now, set] = useState<[Schedule, string]>([
        { ...EVERY_WEEKDAY, ...start },
        'Europe/London',
      ])
      return (
        <Plan
          {...{ workspace: 'marrowick', schedule: now[0], zone: now[1] }}
          onChange={(schedule, zone) => {
            said.push([schedule, zone])
            set([schedule, zone])
          }}
        />
      )
    }
    show(<Planned />)
    return { said, server, last: () => said.at(-1)?.[0] }
  }
  const when = {
    says: 'On weekdays at 06:10',
    next_times: ['2026-11-30T06:10:00Z', '2026-12-01T06:10:00Z'],
  }

  it('is said in words, with the next times by the clock of its zone', async () => {
    plan()
    expect(
      await screen.findByText('On weekdays at 06:10. Next: Mon 30 Nov, 06:10, Tue 1 Dec, 06:10.'),
    ).toBeTruthy()
    expect(momentIn('2026-06-29T05:10:00Z', 'Europe/London')).toBe('Mon 29 Jun, 06:10')
    expect(momentIn('2026-06-29T23:10:00Z', 'Asia/Kathmandu')).toBe('Tue 30 Jun, 04:55')
  })

  it('has the fields of how often it is, and no others', async () => {
    const { last } = plan()
    expect(screen.getByLabelText<HTMLInputElement>('At').value).toBe('06:10')
    type('At', '23:05')
    expect(last()?.minute).toBe(23 * 60 + 5)
    await choose('How often', 'Every week')
    await choose('On', 'Friday')
    expect(last()).toMatchObject({ every: 'week', weekday: 4 })
    await choose('How often', 'Every hour')
    expect(screen.queryByLabelText('At')).toBeNull()
    type('Minutes past', '45')
    expect(last()).toMatchObject({ every: 'hour', minute: 45 })
    await choose('How often', 'By a cron line')
    type('Cron line', '10 6 * * 1-5')
    expect(last()).toMatchObject({ every: 'cron', cron: '10 6 * * 1-5' })
    await choose('How often', 'When values usually come')
    expect(screen.queryByLabelText('At')).toBeNull()
  })

  it('on the last day of a month is the thirty-first', async () => {
    const { last } = plan({ every: 'month' })
    type('On day', '31')
    expect(last()?.day).toBe(31)
    expect(await screen.findByText('The last one')).toBeTruthy()
  })

  it('says what is wrong with a line that is none', async () => {
    const issues = [{ detail: 'Five fields are needed.', remedy: 'Write them.', field: 'cron' }]
    plan({ every: 'cron', cron: '10 6' }, new Refused(422, 'This is no schedule.', issues))
    expect((await screen.findByRole('alert')).textContent).toBe(
      'Five fields are needed. Write them.',
    )
  })
})
