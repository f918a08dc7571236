// Where the points of a small chart lie. Pure.
import { bisector, extent } from 'd3-array'
import type { Schemas } from '../../api/client.ts'
import { linear, type Scale } from '../model/scale.ts'
import { timesOf } from '../model/time.ts'

export type SmallChart = Schemas['SmallChart']
export type Span = readonly [number, number]

export interface Placed {
  times: number[]
  x: Scale
  y: Scale
  width: number
  height: number
}

/** The lowest and the highest of what a small chart draws: values, limits, and its target if wanted. */
export function reachOf(chart: SmallChart, { target = false } = {}): Span | null {
  const levels = chart.segments.flatMap(({ lower, upper, average }) => [lower, upper, average])
  const courses = [chart.value, chart.lower ?? [], chart.upper ?? []].flat()
  const targets = target ? [chart.target, chart.target_high] : []
  const [low, high] = extent([...courses, ...levels, ...targets].filter((one) => one !== null))
  return low === undefined || high === undefined ? null : [low, high]
}

/** The lowest and the highest of several small charts, for axes that eyes can compare. */
export function commonReach(charts: SmallChart[], more: { target?: boolean } = {}): Span | null {
  const [low, high] = extent(charts.flatMap((chart) => reachOf(chart, more) ?? []))
  return low === undefined || high === undefined ? null : [low, high]
}

export function place(
  chart: SmallChart,
  size: { width: number; height: number; pad?: number; left?: number },
  domain: Span,
  reach: Span | null = reachOf(chart),
): Placed {
  const { width, height, pad = 5, left = 0 } = size
  const [low, high] = reach ?? [0, 1]
  const room = high > low ? (high - low) * 0.04 : 1
  return {
    times: timesOf(chart.period, chart.grain),
    x: linear(domain, [left + pad, width - pad]),
    y: linear([low - room, high + room], [height - pad, pad]),
    width,
    height,
  }
}

const byTime = bisector((time: number) => time)

/** The point nearest in time; undefined where there is none, or none within reach. */
export function nearestTo(times: number[], time: number, within = Infinity): number | undefined {
  const n = byTime.center(times, time)
  const at = times[n]
  return at === undefined || Math.abs(at - time) > within ? undefined : n
}

/** The midnight of a day, on the axis that periods are placed on. */
export const dayTime = (day: string) => Date.parse(`${day.slice(0, 10)}T00:00Z`)

/** The day of a time on that axis. */
export const dayOf = (time: number) => new Date(time).toISOString().slice(0, 10)
