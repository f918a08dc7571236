// @vitest-environment jsdom
// What whoever sees to the installation is told, and what they can do about it.
import { describe, expect, it } from 'vitest'
import { LittleRoom } from '../shared/LittleRoom.tsx'
import { press, Refused, screen, screens, serve, show, type } from '../shared/screen.test-data.tsx'
import { ConditionPage } from './ConditionPage.tsx'
import { size, waited } from './condition.ts'

screens()

const bound = (kind: string, things: string, there: number | null, most: number | null) => ({
  ...{ kind, things, there, most, given: most, near: there !== null && there === most },
})
const told = {
  ...{ workers: 0, database_bytes: 2_140_000_000, value_bytes: 1_900_000, workspaces: 2 },
  versions: {
    ...{ fluctus: '1a2b3c', python: '3.11.7', django: '5.2.19', postgresql: '15.14' },
    migrations: 2,
  },
  queues: [{ queue: 'imports', todo: 3, doing: 1, failed: 0, oldest_seconds: 4000 }],
  failed: [
    {
      ...{ kind: 'import', id: 7, workspace: 'Marrowick', at: '2026-11-02T09:00:00Z' },
      ...{ problem: 'Something went wrong; nothing was saved.', can_begin_again: true },
    },
  ],
  statements: null,
  backup: null,
  holders: [
    {
      ...{
        slug: 'marrowick',
        name: 'Marrowick',
        people: 3,
        kpis: 26,
        values: 9000,
        bytes: 1_890_000,
      },
      bounds: [
        bound('kpis', 'KPIs', 26, null),
        bound('values', 'values', 9000, 9000),
        bound('feeds', 'feeds', 0, null),
        bound('file_bytes', 'bytes of tables that wait', 0, null),
        bound('requests_a_minute', 'requests a minute', null, null),
      ],
    },
  ],
}

describe('how it is', () => {
  it('says what wants somebody, and begins again what has failed', async () => {
    const server = serve({
      'GET /installation': told,
      'POST /installation/jobs/import/7': null,
    })
    show(<ConditionPage />)
    const wants = await screen.findAllByText(
      /No worker gives|waits for 2 migrations|has made no backup/,
    )
    expect(wants.every((one) => one.hasAttribute('data-wants'))).toBe(true)
    expect(screen.getByText(/load pg_stat_statements/)).toBeTruthy()
    expect(screen.getByRole('row', { name: /Imports 3 1 67 min/ })).toBeTruthy()
    await press('Import 7 again')
    expect(server.of('POST /installation/jobs/import/7')).toHaveLength(1)
  })

  it('gives a workspace room; an empty field leaves it as the installation has it', async () => {
    const server = serve({
      'GET /installation': told,
      'PUT /installation/rooms/marrowick': new Refused(403, 'Type your password again.'),
    })
    show(<ConditionPage />)
    expect((await screen.findByRole('row', { name: /^Marrowick 3 26/ })).textContent).toContain(
      'values: 9000 of 9000',
    )
    await press('Room of Marrowick')
    await type('Most values', '')
    await type('Most KPIs', '40')
    await press('Give this room')
    expect(await screen.findByText('Type your password again.')).toBeTruthy()
    const [{ body } = {}] = server.of('PUT /installation/rooms/marrowick')
    expect(body).toEqual({
      ...{ kpis: 40, values: null, feeds: null, file_bytes: null, requests_a_minute: null },
    })
  })

  it('tells members of little room, and nothing where there is enough', async () => {
    const value = { kind: 'values', things: 'values', there: 850, most: 1000 }
    const room = { ask: 'Morag', bounded: [{ ...value, near: true }] }
    serve({ 'GET /room': room })
    show(<LittleRoom workspace="marrowick" />)
    expect((await screen.findByRole('note')).textContent).toContain(
      '850 of 1,000 values. For more, ask Morag.',
    )
  })

  it('writes sizes and times as people say them', () => {
    expect([0, 999, 999_600, 1_234_567_890].map(size)).toEqual(['0 B', '999 B', '1 MB', '1.23 GB'])
    expect([0.2, 89, 3600, 86_400].map(waited)).toEqual(['0.2 s', '89 s', '60 min', '24 h'])
  })
})
