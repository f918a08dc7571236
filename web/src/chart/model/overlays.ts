// The lines and bands that people put on a chart: which are drawn, how, and how far they reach. Pure.
import { extent } from 'd3-array'
import type { Band, Chart, Line } from './types.ts'

export const COLORS: Record<Line['color'], string> = {
  indigo: 'var(--line-indigo)',
  slate: 'var(--line-slate)',
  clay: 'var(--line-clay)',
  ochre: 'var(--line-ochre)',
  ink: 'var(--ink)',
}
export const DASHES: Record<Line['dash'], string | undefined> = {
  solid: undefined,
  dashed: '6 4',
  dotted: '1.5 3.5',
  long: '14 5',
}
export const WEIGHTS: Record<Line['weight'], number> = {
  faint: 0.8,
  thin: 1.3,
  medium: 2,
  strong: 3,
}

/** The lines that lie on the plot: not hidden, not on another scale, and made of something. */
export function drawnLines({ lines }: Chart): Line[] {
  return lines.filter((line) => !line.hidden && !line.other_scale && line.level !== null)
}

/** The lines on another scale, which have a panel of their own. */
export function linesApart({ lines }: Chart): Line[] {
  return lines.filter((line) => !line.hidden && line.other_scale && line.course)
}

/** The bands between two lines that are there, be these hidden or not. */
export function drawnBands({ bands, lines }: Chart): { band: Band; sides: [Line, Line] }[] {
  return bands.flatMap((band) => {
    const [bottom, top] = [band.bottom, band.top].map((key) =>
      lines.find((line) => line.key === key && line.level !== null),
    )
    return band.hidden || !bottom || !top ? [] : [{ band, sides: [bottom, top] }]
  })
}

/** How a line is called: by its name, or by what it is made from. */
export function lineName({ name, says }: Pick<Line, 'name' | 'says'>): string {
  return name || says.charAt(0).toUpperCase() + says.slice(1)
}

/** The height of a line at a drawn point, by its index. */
export const heightAt = (line: Line, index: number): number | null =>
  line.course ? (line.course[index] ?? null) : line.level

/** The lowest and the highest that a line reaches. */
function reachOf(line: Line): [number, number] {
  const heights = [line.course, line.low, line.high].flatMap((course) => course ?? [])
  const [low, high] = extent(heights.filter((height) => height !== null))
  return [low ?? line.level ?? 0, high ?? line.level ?? 0]
}

/** How far outside of the values, in their own extent, a line may be and still stretch the axis. */
const NEAR = 0.6

/**
 * The levels that lines add to the axis. One far off the values would press them flat: it is left
 * out, and pointed to at the edge, until it is brought into view.
 */
export function levelsOfLines(
  chart: Chart,
  [low, high]: readonly [number, number],
  brought: readonly string[],
): number[] {
  const room = (high - low || Math.abs(high) || 1) * NEAR
  const between = drawnBands(chart).flatMap(({ sides }) => sides)
  return [...drawnLines(chart), ...between].flatMap((line) => {
    const [bottom, top] = reachOf(line)
    const near = bottom >= low - room && top <= high + room
    return near || brought.includes(line.key) ? [bottom, top] : []
  })
}

/** Lines that are outside of what an axis shows, and on which side of it. */
export function linesOutside(
  chart: Chart,
  [low, high]: readonly [number, number],
): { line: Line; above: boolean }[] {
  return drawnLines(chart)
    .map((line) => ({ line, reach: reachOf(line) }))
    .filter(({ reach: [bottom, top] }) => bottom > high || top < low)
    .map(({ line, reach: [bottom] }) => ({ line, above: bottom > high }))
}
