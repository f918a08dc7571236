// The one way to the server: the generated client, with the CSRF token on writes and
// every error turned into a Problem that says what is wrong and what to do.
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Issue = Schemas['Issue']

export class Problem extends Error {
  constructor(
    readonly status: number,
    title: string,
    readonly issues: Issue[] = [],
  ) {
    super(title)
  }

  /** The whole of it in one line, for a notification. */
  get summary(): string {
    return this.issues.map((issue) => [issue.detail, issue.remedy].join(' ').trim()).join(' ')
  }
}

export const client = createClient<paths>({ baseUrl: '' })

client.use({
  onRequest({ request }) {
    const token = document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1]
    if (token && request.method !== 'GET') request.headers.set('X-CSRFToken', token)
    return request
  },
})

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
    throw new Problem(0, 'Fluctus cannot be reached. Check the connection, then try again.')
  }
  if (result.response.ok) return result.data as T
  const body = result.error as Partial<Schemas['Problem']> | undefined
  throw new Problem(
    result.response.status,
    body?.title ?? `The server answered with an error (${result.response.status}).`,
    body?.issues ?? [],
  )
}
