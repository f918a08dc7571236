// A screen in a document without a browser: a server that answers as it is told, and what it was sent.
import { MantineProvider } from '@mantine/core'
import { Notifications, notifications } from '@mantine/notifications'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import {
  act,
  cleanup,
  configure,
  fireEvent,
  render,
  screen,
  waitFor,
  within,
} from '@testing-library/react'
import type { ReactElement } from 'react'
import { MemoryRouter, Route, Routes, useLocation } from 'react-router'
import { afterEach, beforeEach, vi } from 'vitest'
import { client } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import type { Role } from './may.ts'

// What is hidden is found out by styles, of which a document without a browser has few, and slowly.
configure({ defaultHidden: true })

const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] as const

/** What was sent: `POST /links`, in the workspace where it is in one. */
export interface Sent {
  what: string
  body: unknown
  query: Record<string, unknown>
  headers: Record<string, unknown>
}

interface Options {
  params?: {
    path?: Record<string, unknown>
    query?: Record<string, unknown>
    header?: Record<string, unknown>
  }
  body?: unknown
}

/** What the server answers, by what it is asked: data, what makes these, or a refusal. */
export type Answers = Record<string, unknown>

export class Refused {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly issues: { detail: string; remedy: string; field: string }[] = [],
  ) {}
}

export interface Server {
  sent: Sent[]
  /** What was sent of one kind, in order. */
  of: (what: string) => Sent[]
}

/** Sets documents up and clears them away; each file of tests calls it once. */
export function screens() {
  beforeEach(() => {
    vi.stubGlobal('matchMedia', () => ({
      ...{ matches: false, addListener() {}, removeListener() {} },
      ...{ addEventListener() {}, removeEventListener() {} },
    }))
    vi.stubGlobal(
      'ResizeObserver',
      class {
        observe() {}
        unobserve() {}
        disconnect() {}
      },
    )
    Element.prototype.scrollIntoView = () => undefined
    const fonts = { addEventListener() {}, removeEventListener() {} }
    Object.defineProperty(document, 'fonts', { value: fonts, configurable: true })
  })
  afterEach(() => {
    act(() => notifications.clean())
    cleanup()
    vi.restoreAllMocks()
    vi.unstubAllGlobals()
  })
}

/** Answers what is asked; what nobody has told of fails the test that asks. */
export function serve(answers: Answers): Server {
  const sent: Sent[] = []
  for (const method of METHODS)
    vi.spyOn(client, method).mockImplementation((async (path: string, options: Options = {}) => {
      const at = Object.entries(options.params?.path ?? {}).reduce(
        (text, [name, value]) => text.replace(`{${name}}`, String(value)),
        path,
      )
      const what = `${method} ${at.replace(/^\/api\/v1(\/workspaces\/marrowick)?/, '')}`
      const asked = {
        what,
        body: options.body,
        query: options.params?.query ?? {},
        headers: options.params?.header ?? {},
      }
      sent.push(asked)
      if (!(what in answers)) throw new Error(`Nobody answers ${what}`)
      const told = answers[what]
      const said = await (typeof told === 'function' ? told(asked) : told)
      if (!(said instanceof Refused)) return { data: said, response: new Response() }
      const { status, title, issues } = said
      return { error: { title, issues }, response: new Response(null, { status }) }
    }) as never)
  return { sent, of: (what) => sent.filter((one) => one.what === what) }
}

function Where() {
  const { pathname, search } = useLocation()
  return <output aria-label="Where one is">{pathname + search}</output>
}

/** Shows a screen at an address, to a person with a role in Marrowick. */
export function show(
  page: ReactElement,
  { at = '/marrowick', path = '/:workspace', role = 'owner' as Role } = {},
) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  queries.setQueryDefaults(keys.session, { staleTime: Number.POSITIVE_INFINITY })
  queries.setQueryData(keys.session, {
    ...{
      person: 'Isla Corrie',
      username: 'isla',
      demo: false,
      sends_mail: true,
      operates: false,
      asks_code: false,
    },
    workspaces: [{ slug: 'marrowick', name: 'Marrowick Ferries', role }],
  })
  render(
    <QueryClientProvider client={queries}>
      <MantineProvider env="test">
        <Notifications />
        <MemoryRouter initialEntries={[at]}>
          <Routes>
            <Route path={path} element={page} />
            <Route path="*" element={<p>Somewhere else</p>} />
          </Routes>
          <Where />
        </MemoryRouter>
      </MantineProvider>
    </QueryClientProvider>,
  )
  return queries
}

/** Where the person is now. */
export const address = () => screen.getByLabelText('Where one is').textContent

type AriaRole = Parameters<typeof screen.getByRole>[0]

/** Waits for something with a name, and presses it. */
export async function press(name: string | RegExp, role: AriaRole = 'button') {
  fireEvent.click(await screen.findByRole(role, { name }))
}

/** Types into the field with a label, in place of what is there. */
export function type(label: string | RegExp, value: string) {
  fireEvent.change(screen.getByLabelText(label), { target: { value } })
}

/** Opens the list of a field, and returns it. */
export async function unfold(label: string | RegExp): Promise<HTMLElement> {
  const field = screen.getByRole('combobox', { name: label })
  fireEvent.click(field)
  return waitFor(() => {
    const found = document.getElementById(field.getAttribute('aria-controls') ?? '')
    if (!found) throw new Error(`The list of ${label} is not open`)
    return found
  })
}

/** Chooses from the list of a field. */
export async function choose(label: string | RegExp, option: string | RegExp) {
  const list = await unfold(label)
  fireEvent.click(await within(list).findByRole('option', { name: option }))
}

/** The texts of the cells of a table's row that begins so. */
export async function row(begins: string | RegExp): Promise<(string | null)[]> {
  const cell = await screen.findByRole('cell', { name: begins })
  const found = cell.closest('tr')
  return found
    ? within(found)
        .getAllByRole('cell')
        .map((one) => one.textContent)
    : []
}

export { screen, waitFor, within }
