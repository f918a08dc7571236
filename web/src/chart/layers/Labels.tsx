import { maxIndex, minIndex } from 'd3-array'
import { memo } from 'react'
import { valuesName, valueText } from '../../shared/numbers.ts'
import { counted } from '../../shared/writing.ts'
import classes from '../Chart.module.css'
import { around, type Box } from '../model/boxes.ts'
import type { Geometry } from '../model/geometry.ts'
import { type LabelRequest, placeLabels } from '../model/labelPlacement.ts'
import { MARK_COLOR } from '../model/markKinds.ts'
import type { Chart } from '../model/types.ts'
import { textWidth } from '../text/measure.ts'
import { markedBeyond, ROOM_FOR_DOTS, runBar } from './Points.tsx'

/** More labels than this are noise; the newest signals are labeled. */
const MOST = 14
/** Where a person has chosen what is labeled, as many as fit. */
const MOST_CHOSEN = 200

/** The drawn points, by index, whose values a person wants labeled; marked ones always are. */
function labeled(chart: Chart): number[] {
  const { kpi, points } = chart
  const every = points.value.map((_, n) => n)
  switch (kpi.value_labels) {
    case 'all':
      return every
    case 'extremes':
      return [maxIndex(points.value), minIndex(points.value)].filter((n) => n >= 0)
    case 'ends':
      return every.length > 1 ? [0, every.length - 1] : every
    default: {
      const marked = new Set(markedBeyond(chart).map(({ position }) => position))
      return every.filter((n) => marked.has(points.position[n] ?? -1))
    }
  }
}

/** Direct labels: the value of a point outside the limits, and what a run is. */
export const Labels = memo(function Labels({
  chart,
  geometry,
  candidates,
}: {
  chart: Chart
  geometry: Geometry
  candidates: Chart['candidates']
}) {
  const { times, x, y, left, right, values, lane } = geometry
  if (geometry.room < ROOM_FOR_DOTS) return null
  const requests: LabelRequest[] = []
  const last = chart.incomplete === null ? undefined : geometry.indexOf.get(chart.incomplete)
  if (last !== undefined) {
    requests.push({
      key: 'incomplete',
      text: 'incomplete',
      x: x(times[last] ?? 0),
      y: y(chart.points.value[last] ?? 0),
      clear: 10,
      color: 'var(--quiet)',
    })
  }
  const obstacles: Box[] = times.map((time, n) => around(x(time), y(chart.points.value[n] ?? 0), 5))
  // What the values are counted in stands above the axis, as wide as it is.
  const unit = textWidth(valuesName(chart.kpi.numbers))
  obstacles.push({ x0: 0, x1: Math.min(unit + 12, right), y0: values[0] - 22, y1: values[0] - 4 })
  for (const candidate of candidates) {
    const n = geometry.indexOf.get(candidate.position)
    if (n === undefined) continue
    const at = x(times[n] ?? 0) - geometry.spacing / 2
    obstacles.push(around(at, lane[0] - 6, 9))
  }
  for (const n of labeled(chart)) {
    if (requests.length >= MOST_CHOSEN) break
    const value = chart.points.value[n] ?? 0
    requests.push({
      key: `value ${n}`,
      text: valueText(value, chart.kpi.numbers),
      x: x(times[n] ?? 0),
      y: y(value),
      clear: 9,
      color: 'var(--ink)',
    })
  }
  const bySignal = chart.kpi.value_labels === 'signals'
  for (const signal of [...chart.signals].reverse()) {
    if (requests.length >= MOST) break
    if (bySignal && signal.mark === 'outside' && signal.judges === 'values') {
      const furthest = signal.points.reduce((a, b) =>
        Math.abs(distance(chart, geometry, b)) > Math.abs(distance(chart, geometry, a)) ? b : a,
      )
      const n = geometry.indexOf.get(furthest)
      if (n === undefined) continue
      const value = chart.points.value[n] ?? 0
      requests.push({
        key: `outside ${furthest}`,
        text: valueText(value, chart.kpi.numbers),
        x: x(times[n] ?? 0),
        y: y(value),
        clear: 10,
        color: MARK_COLOR.outside,
      })
    } else if (signal.mark === 'run' && chart.kpi.value_labels !== 'none') {
      const bar = runBar(signal, chart, geometry)
      if (!bar) continue
      obstacles.push({ x0: bar.x0, x1: bar.x1, y0: bar.y - 2, y1: bar.y + 2 })
      requests.push({
        key: `run ${signal.points[0]}`,
        text: `${signal.count} in a row ${bar.above ? 'above' : 'below'} average`,
        x: (bar.x0 + bar.x1) / 2,
        y: bar.y,
        clear: 5,
        color: MARK_COLOR.run,
      })
    }
  }
  for (const mark of chart.set_aside) {
    const n = geometry.indexOf.get(mark.position)
    if (n === undefined) continue
    const value = chart.points.value[n] ?? 0
    requests.push({
      key: `aside ${mark.position}`,
      text: valueText(value, chart.kpi.numbers),
      x: x(times[n] ?? 0),
      y: y(value),
      clear: 10,
      color: 'var(--quiet)',
    })
  }
  for (const gap of chart.gaps) {
    const n = geometry.indexOf.get(gap.position)
    if (!n || gap.missing < 2) continue
    const [from, to] = [x(times[n - 1] ?? 0), x(times[n] ?? 0)]
    const text = `${counted(gap.missing, chart.kpi.grain)} missing`
    if (textWidth(text, 600) + 16 > to - from) continue
    const [before, after] = [chart.points.value[n - 1] ?? 0, chart.points.value[n] ?? 0]
    requests.push({
      key: `gap ${gap.position}`,
      text,
      x: (from + to) / 2,
      y: (y(before) + y(after)) / 2,
      clear: 6,
      color: 'var(--quiet)',
    })
  }
  const bounds = { x0: left, x1: right, y0: values[0] - 14, y1: lane[0] - 1 }
  return (
    <g className={classes.labels} data-part="labels">
      {placeLabels(requests, obstacles, bounds, linesOf(chart, geometry)).map((label) => (
        <text
          key={label.key}
          x={(label.box.x0 + label.box.x1) / 2}
          y={label.box.y1 - 3}
          textAnchor="middle"
          fill={label.color}
        >
          {label.text}
        </text>
      ))}
    </g>
  )
})

/** The level lines of a chart, which its labels keep off where they can. */
function linesOf(chart: Chart, { x, y, times, left, right }: Geometry): Box[] {
  const level = (value: number | null, x0: number, x1: number): Box[] =>
    value === null ? [] : [{ x0, x1, y0: y(value) - 1, y1: y(value) + 1 }]
  const start = chart.shown[0] ?? 0
  return [
    ...[chart.target_now, chart.target_high_now].flatMap((value) => level(value, left, right)),
    ...chart.segments.flatMap(({ first, stop, average, upper, lower }) => {
      const [from, to] = [times[Math.max(0, first - start)], times[stop - 1 - start]]
      if (from === undefined) return []
      const [x0, x1] = [x(from), to === undefined ? right : x(to)]
      return [average, upper, lower].flatMap((value) => level(value, x0, x1))
    }),
  ]
}

function distance(chart: Chart, geometry: Geometry, position: number): number {
  return chart.points.distance[geometry.indexOf.get(position) ?? -1] ?? 0
}
