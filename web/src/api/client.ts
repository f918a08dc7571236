// The one way to the server: the generated client, with the CSRF token on writes and
// every error turned into a Problem that says what is wrong and what to do.
import createClient from 'openapi-fetch'
import { type Asked, letIn } from './doorkeeper.ts'
import type { components, paths } from './schema'
import { nameKnown, withKnown } from './unchanged.ts'

export type Schemas = components['schemas']
export type Issue = Schemas['Issue']

export class Problem extends Error {
  constructor(
    readonly status: number,
    title: string,
    readonly issues: Issue[] = [],
    /** The number of the request, by which the server's log is searched; empty for none. */
    readonly request = '',
  ) {
    super(title)
  }

  /** What whoever runs the server is told of a failure, which is in its log; empty for others. */
  get number(): string {
    return this.status >= 500 && this.request ? `It is number ${this.request} in the log.` : ''
  }

  /** The whole of it in one line, for a notification. */
  get summary(): string {
    const said = this.issues.map(({ detail, remedy }) => [detail, remedy].join(' ').trim())
    return [...said, this.number].filter(Boolean).join(' ')
  }
}

/** The line has dropped, or the server is away: nothing was said of the matter itself. */
export class Unreachable extends Problem {
  constructor() {
    super(0, 'Fluctus cannot be reached. Check the connection, then try again.')
  }
}

export const client = createClient<paths>({ baseUrl: '' })

/** Addresses that ask for a password themselves, or need none. */
const OPEN = /\/api\/v1\/(session|password|invitation|shared|vocabulary)/
const asSent = new WeakMap<Request, Request>()

client.use({
  onRequest({ request }) {
    const signed = withToken(request)
    nameKnown(signed)
    // To be sent again once a password has been typed.
    asSent.set(signed, signed.clone())
    return signed
  },
  async onResponse({ request, response }) {
    const what = OPEN.test(new URL(request.url).pathname) ? null : await standsInTheWay(response)
    const again = asSent.get(request)
    if (!what || !again || !(await letIn(what))) return withKnown(request, response)
    return withKnown(again, await fetch(withToken(again)))
  },
})

function withToken(request: Request): Request {
  const token = document.cookie.match(/(?:^|; )(?:__Host-)?csrftoken=([^;]+)/)?.[1]
  if (token && request.method !== 'GET') request.headers.set('X-CSRFToken', token)
  return request
}

async function standsInTheWay(response: Response): Promise<Asked | null> {
  if (response.status === 401) return 'sign-in'
  if (response.status !== 403) return null
  const problem = (await response.clone().json()) as Partial<Schemas['Problem']>
  return problem.issues?.[0]?.field === 'confirm' ? 'confirm' : null
}

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** Waits for an answer and returns its data, or throws a Problem. */
export async function answer<T>(asked: Promise<Answer<T>>): Promise<T> {
  let result: Answer<T>
  try {
    result = await asked
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error
    throw new Unreachable()
  }
  if (result.response.ok) return result.data as T
  const body = result.error as Partial<Schemas['Problem']> | undefined
  throw new Problem(
    result.response.status,
    body?.title ?? `The server answered with an error (${result.response.status}).`,
    body?.issues ?? [],
    body?.request,
  )
}
