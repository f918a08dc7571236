// @vitest-environment jsdom
// Several workspaces: gone to from the name of the one on screen, with what is new in each.
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Schemas } from '../api/client.ts'
import {
  address,
  press,
  screen,
  screens,
  serve,
  show,
  waitFor,
} from '../shared/screen.test-data.tsx'
import { homeOf, keepHome } from './home.ts'
import { Workspaces } from './Workspaces.tsx'

screens()
beforeEach(() => localStorage.clear())

const marrowick = { slug: 'marrowick', name: 'Marrowick Ferries', role: 'owner' } as const
const corran = { slug: 'corran', name: 'Corran Boatyard', role: 'viewer' } as const
const session = (...workspaces: Schemas['Session']['workspaces']) =>
  ({ person: 'Isla Corrie', workspaces }) as Schemas['Session']

describe('the name of a workspace', () => {
  it('is no more than that to who belongs to one', () => {
    const server = serve({})
    show(<Workspaces session={session(marrowick)} workspace="marrowick" />)
    expect(screen.getByText('Marrowick Ferries')).toBeTruthy()
    expect(screen.queryByRole('button')).toBeNull()
    expect(server.sent).toEqual([])
  })

  it('leads to the others, and says how much is new in each', async () => {
    serve({
      'GET /news': [
        { workspace: 'corran', new: 3 },
        { workspace: 'marrowick', new: 1 },
      ],
    })
    show(<Workspaces session={session(corran, marrowick)} workspace="marrowick" />)
    expect(await screen.findByText('Something is new in another workspace')).toBeTruthy()
    await press('Marrowick Ferries: other workspaces')
    const items = await screen.findAllByRole('menuitem')
    expect(items.map((item) => item.textContent)).toEqual([
      ...['Corran Boatyard3 new findings', 'Marrowick Ferries1 new finding'],
    ])
    expect(items.map((item) => item.getAttribute('aria-current'))).toEqual([null, 'true'])
    items[0]?.click()
    await waitFor(() => expect(address()).toBe('/corran'))
  })

  it('says nothing of news that are here', async () => {
    const server = serve({ 'GET /news': [{ workspace: 'marrowick', new: 1 }] })
    show(<Workspaces session={session(corran, marrowick)} workspace="marrowick" />)
    await waitFor(() => expect(server.of('GET /news')).toHaveLength(1))
    expect(screen.queryByText('Something is new in another workspace')).toBeNull()
  })
})

describe('where a person begins', () => {
  it('is where they were last, as long as they belong there', () => {
    expect(homeOf([corran, marrowick])).toBe(corran)
    keepHome('marrowick')
    expect(homeOf([corran, marrowick])).toBe(marrowick)
    expect(homeOf([corran])).toBe(corran)
    expect(homeOf([])).toBeUndefined()
  })

  it('is the first where a browser keeps nothing', () => {
    const away = () => {
      throw new DOMException('denied')
    }
    vi.spyOn(Storage.prototype, 'setItem').mockImplementation(away)
    vi.spyOn(Storage.prototype, 'getItem').mockImplementation(away)
    keepHome('marrowick')
    expect(homeOf([corran, marrowick])).toBe(corran)
  })
})
