// What somebody works through stays where it is, whatever the server puts first by now.
import { describe, expect, it } from 'vitest'
import type { Finding } from './findings.ts'
import { heldOrder } from './held.ts'

const finding = (id: number, version = 1, state: Finding['state'] = 'open') =>
  ({ id, version, state }) as Finding
const heading = ({ state }: Finding) => (state === 'open' ? 'Without a cause' : 'The rest')
const first = heldOrder([], [finding(1), finding(2), finding(3)], [], heading)
const ids = (rows: typeof first) => rows.map((row) => row.finding.id)

describe('the order of the log', () => {
  it('is that in which findings came, under the headings of then', () => {
    const moved = [finding(2), finding(3), finding(1, 2, 'explained')]
    const now = heldOrder(first, moved, [], heading)
    expect(ids(now)).toEqual([1, 2, 3])
    expect(now[0]?.finding.state).toBe('explained')
    expect(now[0]?.heading).toBe('Without a cause')
  })

  it('keeps one that is no longer asked for, as it was saved last', () => {
    const saved = [finding(2, 2, 'looking'), undefined, finding(2, 3, 'explained')]
    const now = heldOrder(first, [finding(1), finding(3)], saved, heading)
    expect(ids(now)).toEqual([1, 2, 3])
    expect(now[1]?.finding).toEqual(saved[2])
  })

  it('lets what has come in between at its place', () => {
    const now = heldOrder(first, [finding(9), finding(1), finding(2), finding(3)], [], heading)
    expect(ids(now)).toEqual([9, 1, 2, 3])
  })

  it('believes the server rather than what was saved here before', () => {
    const now = heldOrder(first, [finding(1, 5, 'aside')], [finding(1, 4, 'explained')], heading)
    expect(now[0]?.finding.state).toBe('aside')
  })
})
