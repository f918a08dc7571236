// @vitest-environment jsdom
// What an address asks of the overview and of comparisons, and what is asked of the server for it.
import { act, renderHook } from '@testing-library/react'
import type { KeyboardEvent, ReactNode } from 'react'
import { MemoryRouter, useLocation } from 'react-router'
import { describe, expect, it } from 'vitest'
import { ComparePage } from '../compare/ComparePage.tsx'
import { useStrong } from '../compare/useStrong.ts'
import { datesInAddress, datesOf, ownDates, useAddress } from '../shared/looking/useDates.ts'
import {
  address,
  choose,
  press,
  Refused,
  screen,
  screens,
  serve,
  show,
  waitFor,
} from '../shared/screen.test-data.tsx'
import { OverviewPage } from './OverviewPage.tsx'
import { wantedOf } from './overview.ts'

screens()

const of = (text: string) => new URLSearchParams(text)

describe('the dates of an address', () => {
  it('are days, the newest weeks, or all; a year where it says nothing', () => {
    expect(datesOf(of(''))).toEqual({ weeks: 52 })
    expect(datesOf(of('weeks=13'))).toEqual({ weeks: 13 })
    expect(datesOf(of('weeks=all'))).toEqual({})
    expect(datesOf(of('weeks=soon'))).toEqual({ weeks: 52 })
    expect(datesOf(of('first=2026-01-05&weeks=13'))).toEqual({ first: '2026-01-05' })
    expect(ownDates(of('kpi=ramp'))).toBeNull()
    expect(ownDates(of('weeks=52'))).toEqual({ weeks: 52 })
  })

  it('come back from what is written of them', () => {
    const all = [{}, { weeks: 52 }, { weeks: 26 }, { first: '2026-01-05', last: '2026-03-01' }]
    for (const dates of [...all, { last: '2026-03-01' }]) {
      const written = new URLSearchParams()
      for (const [name, value] of Object.entries(datesInAddress(dates)))
        if (value) written.set(name, value)
      expect(datesOf(written)).toEqual(dates)
    }
  })

  it('are asked for in one act that leaves the rest of the address alone', () => {
    const wrapper = ({ children }: { children: ReactNode }) => (
      <MemoryRouter initialEntries={['/marrowick?kpi=a&kpi=b&order=name']}>{children}</MemoryRouter>
    )
    const { result } = renderHook(() => ({ ...useAddress(), at: useLocation().search }), {
      wrapper,
    })
    act(() => result.current.ask({ weeks: '13', order: null }))
    expect(result.current.at).toBe('?kpi=a&kpi=b&weeks=13')
    act(() => result.current.askAll('kpi', ['c']))
    expect(result.current.at).toBe('?weeks=13&kpi=c')
  })
})

describe('the overview', () => {
  it('is asked for what its address says, and for nothing that it does not know', () => {
    expect(wantedOf(of('shows=late&order=hand&folded=Quays&folded=Fleet'))).toEqual({
      ...{ shows: 'late', order: 'hand', folded: ['Quays', 'Fleet'], weeks: 52 },
    })
    expect(wantedOf(of('shows=everything&order=luck'))).toMatchObject({
      ...{ shows: 'all', order: 'newest', folded: [] },
    })
  })

  const counts = {
    ...{ all: 12, new: 2, waits: 1, out: 0, never: 0, steady: 8, not_predictable: 0, late: 0 },
  }
  const screenful = (more: object = {}) => ({
    ...{ counts, count: 0, rows: [], groups: [], first: null, last: null, nearby: [] },
    ...{ newest_period: '23 Nov 2026', sentence: 'Two KPIs have new findings.', ...more },
  })

  it('says what is new first, and offers only what there is of', async () => {
    const server = serve({ 'GET /overview': screenful() })
    show(<OverviewPage />)
    expect(await screen.findByText('Two KPIs have new findings.')).toBeTruthy()
    expect(screen.getByText('12 KPIs · newest data 23 Nov 2026')).toBeTruthy()
    const pills = screen.getAllByRole('button', { name: /\d$/ }).map((pill) => pill.textContent)
    expect(pills.join(' ')).toMatch(/New findings\s*2/)
    expect(pills.join(' ')).not.toContain('Data is late')
    await press(/To decide/)
    await waitFor(() => expect(address()).toBe('/marrowick?shows=waits'))
    await waitFor(() => expect(server.sent.at(-1)?.query).toMatchObject({ shows: 'waits' }))
    await choose('Order', 'By name')
    await waitFor(() => expect(address()).toBe('/marrowick?shows=waits&order=name'))
    await press(/^All/)
    await waitFor(() => expect(address()).toBe('/marrowick?order=name'))
  })

  it('keeps a filter in sight that nothing is of any more', async () => {
    serve({ 'GET /overview': screenful() })
    show(<OverviewPage />, { at: '/marrowick?shows=late' })
    expect(await screen.findByText('No KPI is like that now. Ask for more.')).toBeTruthy()
    expect(screen.getByRole('button', { name: /Data is late/ })).toBeTruthy()
  })

  it('that cannot be had says why, and is asked for again by hand', async () => {
    const server = serve({
      'GET /overview': () =>
        server.of('GET /overview').length > 1 ? screenful() : new Refused(503, 'Not just now.'),
    })
    show(<OverviewPage />)
    expect(await screen.findByText('Not just now.')).toBeTruthy()
    await press(/again/i)
    expect(await screen.findByText('Two KPIs have new findings.')).toBeTruthy()
  })
})

describe('comparing', () => {
  const kpis = [
    { slug: 'fuel', name: 'Fuel', group: '', parts: 0 },
    { slug: 'wait', name: 'Lane wait', group: '', parts: 3 },
  ]
  const at = (address: string, way = 'parts') => ({
    ...{ at: `/marrowick/compare/${way}${address}`, path: '/:workspace/compare/:way' },
  })

  it('by parts begins with a KPI that has some', async () => {
    const server = serve({
      'GET /kpis': { kpis, count: 2 },
      'GET /kpis/wait/parts': new Refused(422, 'There are no values on these dates.'),
    })
    show(<ComparePage />, at('?weeks=13&part=Ainsey&order=average'))
    expect(await screen.findByText('There are no values on these dates.')).toBeTruthy()
    expect(server.of('GET /kpis/wait/parts')[0]?.query).toEqual({
      ...{ weeks: 13, order: 'average', part: ['Ainsey'] },
    })
  })

  it('asks for nothing where no KPI has parts, and says how one comes by them', async () => {
    const server = serve({ 'GET /kpis': { kpis: kpis.slice(0, 1), count: 1 } })
    show(<ComparePage />, at('', 'shares'))
    expect(await screen.findByText(/No KPI has parts yet/)).toBeTruthy()
    expect(server.sent.map(({ what }) => what)).toEqual(['GET /kpis'])
  })

  it('takes the KPI along from one way to another', async () => {
    serve({
      'GET /kpis': { kpis, count: 2 },
      'GET /kpis/wait/shares': new Refused(422, 'It does not add up.'),
    })
    show(<ComparePage />, at('?kpi=wait', 'shares'))
    await screen.findByText('It does not add up.')
    const ways = screen.getByRole('navigation', { name: 'Ways to compare' })
    const links = [...ways.querySelectorAll('a')].map((link) => link.getAttribute('href'))
    expect(links).toContain('/marrowick/compare/pair?kpi=wait&x=wait')
    expect(ways.querySelector('[aria-current]')?.textContent).toBe('Share of a total')
  })

  it('brings one out: what is pointed at, or else what is held, by keys as well', () => {
    const { result, rerender } = renderHook(({ names }) => useStrong(names), {
      initialProps: { names: ['Ainsey', 'Corran', 'Durness'] },
    })
    act(() => result.current.hold('Corran'))
    expect(result.current.strong).toBe('Corran')
    act(() => result.current.hover('Ainsey'))
    expect(result.current.strong).toBe('Ainsey')
    act(() => result.current.hover(null))
    act(() => result.current.hold('Corran'))
    expect(result.current.strong).toBeNull()
    const table = document.createElement('div')
    table.innerHTML = ['Ainsey', 'Corran', 'Durness']
      .map((name) => `<button data-name="${name}"></button>`)
      .join('')
    document.body.append(table)
    const [first, second] = table.querySelectorAll('button')
    first?.focus()
    const down = { key: 'ArrowDown', currentTarget: table, preventDefault() {} }
    act(() => result.current.hover('Durness'))
    act(() => result.current.onKey(down as unknown as KeyboardEvent<HTMLElement>))
    // The pointer lies where it was left: the keys say more.
    expect([document.activeElement, result.current.strong]).toEqual([second, 'Corran'])
    // One that is not there any more is not brought out.
    rerender({ names: ['Ainsey'] })
    expect(result.current.strong).toBeNull()
    table.remove()
  })
})
