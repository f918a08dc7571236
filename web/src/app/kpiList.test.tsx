// @vitest-environment jsdom
// The list of KPIs: what is at hand and what was opened last stand above the groups.
import { beforeEach, describe, expect, it } from 'vitest'
import type { KpiRow } from '../shared/kpis.ts'
import { screen, screens, serve, show, type, waitFor } from '../shared/screen.test-data.tsx'
import { KpiList } from './KpiList.tsx'
import { keepRecent, recentsOf } from './recents.ts'
import { itemsOf } from './rows.ts'

screens()
beforeEach(() => localStorage.clear())

const row = (slug: string, group = 'Quays') =>
  ({ slug, name: slug, group, latest: '', strip: [], signal: null }) as unknown as KpiRow
const rows = Array.from({ length: 24 }, (_, n) => row(`quay-${n}`, n < 12 ? 'Quays' : 'Vessels'))
const links = () => screen.getAllByRole('link').map((link) => link.getAttribute('title'))

describe('the list of KPIs', () => {
  it('begins with what is kept at hand, and with what was opened last', async () => {
    keepRecent('marrowick', 'quay-20')
    keepRecent('marrowick', 'quay-7')
    serve({ 'GET /favorites': { slugs: ['quay-9', 'gone', 'quay-7'] } })
    show(<KpiList rows={rows} workspace="marrowick" />)
    await waitFor(() => expect(links().slice(0, 3)).toEqual(['quay-9', 'quay-7', 'quay-20']))
    const groups = screen.getAllByRole('button').map((button) => button.textContent)
    expect(groups).toEqual(['At hand', 'Opened last', 'Quays', 'Vessels'])
    // What is looked for is looked for once.
    type('Find a KPI', 'quay-9')
    expect(links()).toEqual(['quay-9'])
  })

  it('says nothing of what was opened last where all are in view', async () => {
    keepRecent('marrowick', 'quay-1')
    const server = serve({ 'GET /favorites': { slugs: [] } })
    show(<KpiList rows={rows.slice(0, 5)} workspace="marrowick" />)
    await waitFor(() => expect(server.of('GET /favorites')).toHaveLength(1))
    expect(links()).toEqual(['quay-0', 'quay-1', 'quay-2', 'quay-3', 'quay-4'])
  })

  it('takes a group that is called as what stands above for another', () => {
    const items = itemsOf(
      [row('a', 'At hand')],
      [{ name: 'At hand', rows: [row('a')] }],
      '',
      new Set(),
    )
    expect(new Set(items.map(({ id }) => id)).size).toBe(4)
  })
})

describe('what was opened last', () => {
  it('is the newest first, each once, and of each workspace apart', () => {
    for (const slug of ['a', 'b', 'c', 'a', 'd', 'e', 'f', 'g']) keepRecent('one', slug)
    expect(recentsOf('one')).toEqual(['g', 'f', 'e', 'd', 'a', 'c'])
    expect(recentsOf('two')).toEqual([])
  })

  it('is nothing where something else is kept', () => {
    for (const kept of ['{', '7', '{"a":1}', '[1,null,"a"]']) {
      localStorage.setItem('fluctus-recent one', kept)
      expect(recentsOf('one').every((slug) => typeof slug === 'string')).toBe(true)
    }
    expect(recentsOf('one')).toEqual(['a'])
  })
})
