// A chart with only a part of what it shows, for building it up in front of others. Pure.
import type { Schemas } from '../../api/client.ts'
import type { Chart, Shown } from './types.ts'

export type Part = Schemas['BuildUpPart']

/** A chart as it is shown with these parts: what is not among them is not there yet. */
export function builtUp(chart: Chart, parts: readonly Part[]): { chart: Chart; shown: Shown } {
  const has = (part: Part) => parts.includes(part)
  const segments = has('limits')
    ? chart.segments
    : chart.segments.map((segment) => ({
        ...segment,
        upper: null,
        lower: null,
        range_limit: null,
      }))
  return {
    shown: { average: has('average'), limits: has('limits'), target: has('limits') },
    chart: {
      ...chart,
      segments,
      // A chart tells its story once the decision is told.
      signals: has('signals') ? chart.signals : [],
      happenings: has('signals') ? chart.happenings : [],
      set_aside: has('signals') ? chart.set_aside : [],
      hollow_ranges: has('signals') ? chart.hollow_ranges : chart.hollow_ranges.slice(0, 0),
      candidates: has('decision') ? chart.candidates : [],
      lines: has('limits') ? chart.lines : [],
      bands: has('limits') ? chart.bands : [],
    },
  }
}
