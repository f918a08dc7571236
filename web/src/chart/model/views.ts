// What a named view of a chart hides. Pure.
import type { Chart, Shown } from './types.ts'

export const OWN_LINES: (keyof Shown)[] = ['average', 'limits', 'target']

/** Which of the chart's own lines are shown where some are hidden. */
export const shownBut = (hidden: readonly string[]): Shown => ({
  average: !hidden.includes('average'),
  limits: !hidden.includes('limits'),
  target: !hidden.includes('target'),
})

/** A chart with some of the lines that people put on it hidden, and the others shown. */
export const withHidden = (chart: Chart, hidden: readonly string[]): Chart => ({
  ...chart,
  lines: chart.lines.map((line) => ({ ...line, hidden: hidden.includes(line.key) })),
})
