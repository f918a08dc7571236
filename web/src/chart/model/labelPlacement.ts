// Labels give way: they never cover a point or each other. Pure.
import { textWidth } from '../text/measure.ts'
import { type Box, inside, overlaps } from './boxes.ts'

export interface LabelRequest {
  key: string
  text: string
  x: number
  y: number
  /** How far from the place the label keeps. */
  clear: number
  color: string
}

export interface PlacedLabel extends LabelRequest {
  box: Box
}

const HEIGHT = 14

/**
 * Places labels beside, above or below what they name, first come first served.
 * One that fits nowhere inside `bounds` without covering an obstacle is left out; `lines` are
 * crossed only where there is no other room.
 */
export function placeLabels(
  requests: LabelRequest[],
  obstacles: Box[],
  bounds: Box,
  lines: Box[] = [],
): PlacedLabel[] {
  const placed: PlacedLabel[] = []
  for (const request of requests) {
    const width = textWidth(request.text, 600) + 4
    const { x, y, clear } = request
    const candidates = [
      [x + clear, y - HEIGHT / 2],
      [x - clear - width, y - HEIGHT / 2],
      [x - width / 2, y - clear - HEIGHT],
      [x - width / 2, y + clear],
      [x + clear / 2, y - clear - HEIGHT],
      [x + clear / 2, y + clear],
      [x - clear / 2 - width, y - clear - HEIGHT],
      [x - clear / 2 - width, y + clear],
    ]
    const free = candidates
      .map(([x0 = 0, y0 = 0]) => ({ x0, y0, x1: x0 + width, y1: y0 + HEIGHT }))
      .filter(
        (box) =>
          inside(box, bounds) &&
          !obstacles.some((other) => overlaps(box, other)) &&
          !placed.some((other) => overlaps(box, other.box)),
      )
    const box = free.find((box) => !lines.some((line) => overlaps(box, line))) ?? free[0]
    if (box) placed.push({ ...request, box })
  }
  return placed
}

/**
 * Pushes places apart so that each is at least `gap` from the next, moving all as
 * little as need be and keeping them between `low` and `high` while they fit.
 */
export function spreadOut(levels: number[], gap: number, low: number, high: number): number[] {
  const order = levels.map((_, n) => n).sort((a, b) => (levels[a] ?? 0) - (levels[b] ?? 0))
  // Neighbors that collide become one block around their common middle.
  const blocks: { members: number[]; top: number }[] = []
  const top = (members: number[]) => {
    const ideal = members.map((n, i) => (levels[n] ?? 0) - i * gap)
    const middle = ideal.reduce((sum, place) => sum + place, 0) / ideal.length
    return Math.max(low, Math.min(middle, high - (members.length - 1) * gap))
  }
  for (const n of order) {
    let block = { members: [n], top: top([n]) }
    let before = blocks.at(-1)
    while (before && before.top + before.members.length * gap > block.top) {
      blocks.pop()
      const members = [...before.members, ...block.members]
      block = { members, top: top(members) }
      before = blocks.at(-1)
    }
    blocks.push(block)
  }
  const result = [...levels]
  for (const block of blocks) {
    block.members.forEach((n, i) => {
      result[n] = block.top + i * gap
    })
  }
  return result
}
