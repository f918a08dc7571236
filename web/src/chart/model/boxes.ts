// Boxes of a drawing, in its pixels: what is covered, and what stays free. Pure.

export interface Box {
  x0: number
  y0: number
  x1: number
  y1: number
}

/** The box so many pixels around a point. */
export function around(x: number, y: number, room: number): Box {
  return { x0: x - room, x1: x + room, y0: y - room, y1: y + room }
}

export function overlaps(a: Box, b: Box): boolean {
  return a.x0 < b.x1 && b.x0 < a.x1 && a.y0 < b.y1 && b.y0 < a.y1
}

export function inside(a: Box, b: Box): boolean {
  return a.x0 >= b.x0 && a.x1 <= b.x1 && a.y0 >= b.y0 && a.y1 <= b.y1
}

/** Square pixels that two boxes share. */
export function shared(a: Box, b: Box): number {
  const width = Math.min(a.x1, b.x1) - Math.max(a.x0, b.x0)
  const height = Math.min(a.y1, b.y1) - Math.max(a.y0, b.y0)
  return width > 0 && height > 0 ? width * height : 0
}
