// @vitest-environment jsdom
// The ledger under the hand: walking by keys, what is typed and kept, what is pasted and removed.
import { act } from '@testing-library/react'
import type { ClipboardEvent, KeyboardEvent } from 'react'
import { describe, expect, it } from 'vitest'
import {
  Refused,
  type Server,
  screen,
  screens,
  serve,
  show,
  waitFor,
} from '../shared/screen.test-data.tsx'
import { useLedger } from './useLedger.ts'
import type { Wanted } from './values.ts'

screens()

const base = '/kpis/ramp/values'
const kpi = { name: 'Ramp cycle', grain: 'week', aggregation: 'mean', breakdowns: [], decimals: 1 }
const all: Wanted = { breakdown: null, only: null, by: null }
const values = [18, 19, 20, 21].map((value, n) => ({
  ...{ period: `2026-03-0${n + 1}`, breakdown: '', value, numerator: null, denominator: null },
  ...{ note: n === 1 ? 'fog' : '', set_aside: false, reason: '', version: 50 + n },
}))
const known = {
  'GET /vocabulary': { values_page: 200 },
  [`GET ${base}`]: {
    ...{ count: 4, values, next: { period: '2026-03-05' }, fed: false, writers: [] },
  },
  [`GET ${base}/on-chart`]: { segments: 1, values: [null, null, null, null] },
}

/** The ledger of a KPI with four values, as it is now. */
async function ledger(wanted: Wanted = all, mayWrite = true, answers: object = {}, of = {}) {
  const server = serve({ ...known, [`POST ${base}`]: { saved: 1 }, ...answers })
  let now = null as unknown as ReturnType<typeof useLedger>
  function Probe() {
    const path = { workspace: 'marrowick', kpi: 'ramp' }
    now = useLedger(path, { ...kpi, ...of } as never, wanted, mayWrite)
    return <p>{`${now.rows} rows`}</p>
  }
  show(<Probe />)
  await waitFor(() => expect(now.values.pending).toBe(false))
  await waitFor(() => expect(now.values.at(0)).toBeDefined())
  const key = (name: string, row: number, column: 'value' | 'note' = 'value', more: object = {}) =>
    act(() =>
      now.onKey(
        { key: name, preventDefault() {}, ...more } as unknown as KeyboardEvent,
        row,
        column,
      ),
    )
  return { server, key, now: () => now }
}

const sent = async (server: Server, count = 1) => {
  await waitFor(() => expect(server.of(`POST ${base}`)).toHaveLength(count))
  const [last] = server.of(`POST ${base}`).slice(-1)
  return (last as { body: { edits: Record<string, unknown>[] } }).body.edits
}

describe('walking', () => {
  it('goes to the next row and column, and stops at the ends', async () => {
    const { key, now } = await ledger()
    expect(now().rows).toBe(5)
    const walks = [
      ...([
        ['ArrowDown', 0, 1],
        ['ArrowUp', 0, 0],
        ['ArrowDown', 4, 4],
        ['Home', 3, 0],
      ] as const),
      ...([
        ['End', 0, 4],
        ['PageDown', 1, 4],
        ['PageUp', 3, 0],
      ] as const),
    ]
    for (const [name, from, to] of walks) {
      key(name, from)
      expect(now().at, `${name} from ${from}`).toEqual({ row: to, column: 'value' })
    }
    key('ArrowRight', 2)
    expect(now().at).toEqual({ row: 2, column: 'note' })
    key('ArrowRight', 2, 'note')
    expect(now().at).toEqual({ row: 2, column: 'note' })
    key('ArrowLeft', 2, 'note')
    expect(now().at).toEqual({ row: 2, column: 'value' })
  })

  it('leaves keys alone that are another act, and all of them while something is typed', async () => {
    const { key, now } = await ledger()
    for (const more of [{ ctrlKey: true }, { metaKey: true }, { altKey: true }])
      key('ArrowDown', 0, 'value', more)
    expect(now().at).toBeNull()
    key('Enter', 0)
    expect(now().editing).toBe('18')
    key('ArrowDown', 0)
    expect(now().at).toBeNull()
  })

  it('by who only looks begins nothing', async () => {
    const { server, key, now } = await ledger(all, false)
    for (const name of ['Enter', 'F2', '7', 'Delete']) key(name, 1)
    expect(now().editing).toBeNull()
    key('ArrowDown', 1)
    expect(now().at?.row).toBe(2)
    expect(server.of(`POST ${base}`)).toHaveLength(0)
  })
})

describe('what is typed', () => {
  it('begins with the key that was pressed, or with what is there', async () => {
    const { key, now } = await ledger()
    key('7', 1)
    expect(now().editing).toBe('7')
    act(() => now().setEditing(null))
    key('F2', 1, 'note')
    expect(now().editing).toBe('fog')
    act(() => now().setEditing(null))
    // The help of all keys is asked for by this one.
    key('?', 1)
    expect(now().editing).toBeNull()
  })

  it('is kept where it is new, on the version that was seen, and the next row is at hand', async () => {
    const { server, now } = await ledger()
    act(() => now().keep(1, 'value', '19', 1))
    act(() => now().keep(1, 'value', 'about 20', 0))
    act(() => now().keep(1, 'note', 'fog', 0))
    expect(server.of(`POST ${base}`)).toHaveLength(0)
    act(() => now().keep(1, 'value', '19.5', 1))
    expect(await sent(server)).toMatchObject([
      { period: '2026-03-02', value: 19.5, note: 'fog', seen: 51 },
    ])
    expect(now().at).toEqual({ row: 2, column: 'value' })
  })

  it('in the last row is of the next period', async () => {
    const { server, now } = await ledger()
    act(() => now().keep(4, 'value', '22', 1))
    expect(await sent(server)).toEqual([{ period: '2026-03-05', breakdown: '', value: 22 }])
  })

  it('in a gap leaves the next gap in its row', async () => {
    const wanted: Wanted = { ...all, only: 'missing' }
    const { now } = await ledger(wanted)
    // What is looked for is among the rows that there are.
    expect(now().rows).toBe(4)
    act(() => now().keep(1, 'value', '23', 1))
    expect(now().at).toEqual({ row: 1, column: 'value' })
  })

  it('is refused where somebody was there before, and the newest comes in', async () => {
    const refused = new Refused(409, 'Tam Reid has written 30 meanwhile.')
    const { server, now } = await ledger(all, true, { [`POST ${base}`]: refused })
    act(() => now().keep(0, 'value', '17', 1))
    expect(await screen.findByText('Tam Reid has written 30 meanwhile.')).toBeTruthy()
    await waitFor(() => expect(server.of(`GET ${base}`).length).toBeGreaterThan(1))
  })
})

describe('the end of the rows', () => {
  it('takes no new value before it is known to which part it belongs', async () => {
    const parts = { breakdowns: ['Ainsey', 'Corran'] }
    const { now } = await ledger(all, true, {}, parts)
    expect(now().rows).toBe(4)
  })

  it('takes one of the part that is looked at', async () => {
    const parts = { breakdowns: ['Ainsey', 'Corran'] }
    const { server, now } = await ledger({ ...all, breakdown: 'Corran' }, true, {}, parts)
    expect(now().rows).toBe(5)
    expect(server.of(`GET ${base}`)[0]?.query).toEqual({ start: 0, breakdown: 'Corran' })
    act(() => now().keep(4, 'value', '22', 0))
    expect(await sent(server)).toMatchObject([{ breakdown: 'Corran', value: 22 }])
  })
})

describe('several at once', () => {
  const paste = (text: string) =>
    ({ preventDefault() {}, clipboardData: { getData: () => text } }) as unknown as ClipboardEvent

  it('are saved as one, and said so', async () => {
    const { server, now } = await ledger()
    act(() => now().onPaste(paste('1\n2\n3'), 2, 'value'))
    expect((await sent(server)).map(({ period, value }) => [period, value])).toEqual([
      ...[
        ['2026-03-03', 1],
        ['2026-03-04', 2],
        ['+1', 3],
      ],
    ])
    expect(await screen.findByText('3 values saved. Ctrl Z takes back.')).toBeTruthy()
  })

  it('with one that is none are not saved at all', async () => {
    const { server, now } = await ledger()
    act(() => now().onPaste(paste('1\ntwo'), 0, 'value'))
    expect(await screen.findByText('Nothing was pasted.')).toBeTruthy()
    expect(server.of(`POST ${base}`)).toHaveLength(0)
  })

  it('are not pasted into a cell that is being typed', async () => {
    const { server, key, now } = await ledger()
    key('Enter', 0)
    act(() => now().onPaste(paste('1\n2'), 0, 'value'))
    expect(server.of(`POST ${base}`)).toHaveLength(0)
  })

  it('one is removed by its key, and said how it comes back', async () => {
    const { server, key } = await ledger()
    key('Delete', 2)
    expect(await sent(server)).toMatchObject([{ period: '2026-03-03', seen: 52, remove: true }])
    expect(await screen.findByText(/deleted\. Ctrl Z brings it back/)).toBeTruthy()
    // There is none in the row of the next one.
    key('Delete', 4)
    expect(server.of(`POST ${base}`)).toHaveLength(1)
  })
})
