// From numbers to pixels and back. Pure: d3-scale does the same with all of its formats, colors
// and interpolations, which would be a tenth of what a chart loads.
import { ticks } from 'd3-array'

export interface Scale {
  (value: number): number
  invert: (px: number) => number
  ticks: (count: number) => number[]
  domain: readonly [number, number]
}

/** A linear scale from `domain` to `range`; all of an empty domain lies in the middle. */
export function linear(domain: readonly [number, number], range: readonly [number, number]): Scale {
  const [low, high] = domain
  const [start, stop] = range
  const span = high - low
  const at = (value: number) =>
    span ? start + ((value - low) / span) * (stop - start) : (start + stop) / 2
  return Object.assign(at, {
    domain,
    invert: (px: number) => low + ((px - start) / (stop - start)) * span,
    ticks: (count: number) => ticks(low, high, count),
  })
}
