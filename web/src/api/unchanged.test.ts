import { describe, expect, it } from 'vitest'
import { nameKnown, withKnown } from './unchanged.ts'

const at = (address: string, method = 'GET') =>
  new Request(`http://fluctus.test${address}`, { method })

const answered = (body: string, tag?: string, status = 200) =>
  new Response(status === 304 ? null : body, { status, headers: tag ? { ETag: tag } : {} })

/** Asks as the client does; returns the tag that was named, and the body that came of it. */
async function ask(address: string, response: Response, method = 'GET') {
  const request = at(address, method)
  nameKnown(request)
  const known = await withKnown(request, response)
  return {
    named: request.headers.get('If-None-Match'),
    body: await known.text(),
    status: known.status,
  }
}

describe('answers that are here already', () => {
  it('names what is here, and shows it again where nothing has changed', async () => {
    expect(await ask('/a', answered('one', '"1"'))).toMatchObject({ named: null, body: 'one' })
    expect(await ask('/a', answered('', '"1"', 304))).toMatchObject({
      named: '"1"',
      body: 'one',
      status: 200,
    })
    expect(await ask('/a', answered('two', '"2"'))).toMatchObject({ named: '"1"', body: 'two' })
    expect(await ask('/a?width=2', answered('other', '"2"'))).toMatchObject({ named: null })
    expect(await ask('/a', answered('', '"2"', 304))).toMatchObject({ named: '"2"', body: 'two' })
  })

  it('keeps nothing of writes, refusals and answers without a tag', async () => {
    await ask('/b', answered('one', '"1"'), 'POST')
    await ask('/b', answered('no', '"1"', 404))
    await ask('/b', answered('one'))
    expect(await ask('/b', answered('one'))).toMatchObject({ named: null })
  })

  it('keeps a few, those used last', async () => {
    for (let number = 0; number < 60; number++) await ask(`/c${number}`, answered('c', '"c"'))
    expect(await ask('/c0', answered('c'))).toMatchObject({ named: null })
    expect(await ask('/c59', answered('', '"c"', 304))).toMatchObject({ named: '"c"', body: 'c' })
  })
})
