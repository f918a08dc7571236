// What is said of a failure: with the number that its log is searched by, and of a refusal without.
import { describe, expect, it } from 'vitest'
import { answer, Problem } from './client.ts'

const issue = {
  ...{ detail: 'It is in the log.', remedy: 'Try again.', field: '' },
  ...{ row: null, column: '', found: '' },
}

const refused = (status: number, body: unknown) =>
  answer(Promise.resolve({ error: body, response: new Response(null, { status }) }))

describe('what the server could not do', () => {
  it('is told with the number that it has in the log', async () => {
    const body = { title: 'Something went wrong.', issues: [issue], request: '1f2e' }
    await expect(refused(500, body)).rejects.toMatchObject({
      status: 500,
      summary: 'It is in the log. Try again. It is number 1f2e in the log.',
    })
  })

  it('is told without where somebody can act on it themselves', async () => {
    const body = { title: 'This name is taken.', issues: [issue], request: '1f2e' }
    const problem = await refused(409, body).catch((error: unknown) => error)
    expect(problem).toBeInstanceOf(Problem)
    expect((problem as Problem).summary).toBe('It is in the log. Try again.')
  })

  it('is told where the answer is none of ours', async () => {
    const problem = await refused(502, undefined).catch((error: unknown) => error)
    expect((problem as Problem).message).toBe('The server answered with an error (502).')
    expect((problem as Problem).number).toBe('')
  })
})
