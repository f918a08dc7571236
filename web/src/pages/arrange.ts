// How panels are moved and resized by keys, and give way to each other. Pure.
import type { Layout } from 'react-grid-layout'
import type { Panel } from '../panels/face.ts'

export const COLUMNS = 2

export const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}

export const samePlace = (one: Panel, other: Panel | undefined) =>
  one.x === other?.x && one.y === other.y && one.w === other.w && one.h === other.h

export function resized(panel: Panel, [across, down]: [number, number]): Panel {
  const w = Math.min(COLUMNS - panel.x, Math.max(1, panel.w + across))
  return { ...panel, w, h: Math.min(40, Math.max(2, panel.h + down)) }
}

/** A panel that changes places with the next one above or below it, or goes to the other column. */
export function movedPanel(panel: Panel, [across, down]: [number, number], panels: Panel[]): Panel {
  if (across) {
    const w = panel.w === COLUMNS ? 1 : panel.w
    return { ...panel, w, x: Math.min(COLUMNS - w, Math.max(0, panel.x + across)) }
  }
  const ends = panels.filter((one) => one !== panel)
  const next =
    down > 0
      ? Math.min(...ends.filter(({ y }) => y > panel.y).map(({ y, h }) => y + h))
      : Math.max(...ends.filter(({ y }) => y < panel.y).map(({ y }) => y))
  return Number.isFinite(next) ? { ...panel, y: Math.max(0, next) } : panel
}

/** Panels moved down until none covers another; the one in the hand keeps its place. */
export function settled(panels: Panel[], held: Panel): Panel[] {
  const order = [...panels].sort(
    (one, other) =>
      one.y - other.y ||
      Number(other.key === held.key) - Number(one.key === held.key) ||
      one.x - other.x,
  )
  const placed: Panel[] = []
  for (const panel of order) {
    let y = 0
    // As high as it goes without covering one that is placed already.
    for (const other of placed)
      if (panel.x < other.x + other.w && other.x < panel.x + panel.w)
        y = Math.max(y, other.y + other.h)
    placed.push({ ...panel, y })
  }
  return panels.map((panel) => placed.find(({ key }) => key === panel.key) ?? panel)
}

/** Panels under each other, where there is no width for two columns; some of them are taller then. */
export function stacked(panels: Panel[], tallerBy: (panel: Panel) => number): Layout {
  let y = 0
  return [...panels]
    .sort((one, other) => one.y - other.y || one.x - other.x)
    .map((panel) => {
      const h = panel.h + tallerBy(panel)
      const item = { i: panel.key, x: 0, y, w: 1, h }
      y += h
      return item
    })
}
