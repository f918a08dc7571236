// Panels in the grid of a page: moved by keys, giving way to each other.
import { describe, expect, it } from 'vitest'
import type { Panel } from '../panels/face.ts'
import { movedPanel, resized, settled, stacked } from './arrange.ts'

const panel = (key: string, x: number, y: number, w: number, h: number) =>
  ({ key, kind: 'chart', x, y, w, h }) as Panel
const cells = (panels: Panel[]) => panels.map(({ key, x, y, w, h }) => [key, x, y, w, h].join(' '))

/** Every two panels of a column have rows of their own. */
function apart(panels: Panel[]) {
  return panels.every((one) =>
    panels.every(
      (other) =>
        one === other ||
        one.x + one.w <= other.x ||
        other.x + other.w <= one.x ||
        one.y + one.h <= other.y ||
        other.y + other.h <= one.y,
    ),
  )
}

const page = [panel('a', 0, 0, 2, 4), panel('b', 0, 4, 1, 6), panel('c', 1, 4, 1, 3)]

describe('arranging', () => {
  it('moves a panel past the next one, which comes up in its place', () => {
    const [a] = page as [Panel, Panel, Panel]
    const moved = movedPanel(a, [0, 1], page)
    const after = settled([moved, ...page.slice(1)], moved)
    expect(apart(after)).toBe(true)
    expect(after.find(({ key }) => key === 'c')?.y).toBe(0)
    const back = movedPanel(after[0] as Panel, [0, -1], after)
    expect(settled([back, ...after.slice(1)], back)[0]?.y).toBe(0)
  })

  it('gives way to one column, and keeps within the grid', () => {
    const [a, b] = page as [Panel, Panel, Panel]
    expect(movedPanel(a, [1, 0], page)).toMatchObject({ x: 1, w: 1 })
    expect(movedPanel(b, [-1, 0], page)).toMatchObject({ x: 0, w: 1 })
    expect(resized(a, [1, 0])).toMatchObject({ w: 2 })
    expect(resized(a, [-1, 1])).toMatchObject({ w: 1, h: 5 })
    expect(resized(panel('x', 1, 0, 1, 2), [1, -1])).toMatchObject({ w: 1, h: 2 })
  })

  it('never lets one cover another, whatever is done', () => {
    let panels = page
    const steps: [number, number][] = [
      [0, 1],
      [1, 0],
      [0, -1],
      [-1, 0],
    ]
    for (let n = 0; n < 60; n++) {
      const held = panels[n % 3] as Panel
      const by = steps[(n * 7) % 4] as [number, number]
      const moved = n % 5 === 0 ? resized(held, by) : movedPanel(held, by, panels)
      panels = settled(
        panels.map((one) => (one === held ? moved : one)),
        moved,
      )
      expect(apart(panels), `step ${n}: ${cells(panels)}`).toBe(true)
      expect(panels.every(({ x, w }) => x >= 0 && x + w <= 2)).toBe(true)
    }
  })

  it('stands under each other in the order of reading where it is narrow', () => {
    expect(
      stacked(page, ({ kind }) => (kind === 'chart' ? 2 : 0)).map(({ i, y }) => `${i} ${y}`),
    ).toEqual(['a 0', 'b 6', 'c 14'])
  })
})
