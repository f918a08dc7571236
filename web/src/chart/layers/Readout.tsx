import { fullText, levelText, plainNumber, signedLevel } from '../../shared/numbers.ts'
import { longPeriod } from '../../shared/writing.ts'
import classes from '../Chart.module.css'
import type { Geometry } from '../model/geometry.ts'
import { drawnLines, lineName, linesApart } from '../model/overlays.ts'
import type { Chart } from '../model/types.ts'

const WIDTH = 250

/** What there is to know of one point, beside it. */
export function Readout({
  chart,
  geometry,
  index,
}: {
  chart: Chart
  geometry: Geometry
  index: number
}) {
  const x = geometry.x(geometry.times[index] ?? 0)
  const flip = x + WIDTH + 24 > geometry.right
  const lines = readOut(chart, index)
  return (
    <div
      className={classes.readout}
      style={{
        width: WIDTH,
        left: flip ? Math.max(0, x - WIDTH - 14) : x + 14,
        top: geometry.values[0],
      }}
    >
      <b>{lines.period}</b>
      <dl>
        {lines.numbers.map(([name, text]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{text}</dd>
          </div>
        ))}
      </dl>
      {lines.aside !== null && <p>Set aside: {lines.aside || 'no reason given'}</p>}
      {lines.incomplete && <p>Not over yet: it takes no part in limits and rules.</p>}
      {lines.note && <p>{lines.note}</p>}
      {lines.flags.map((flag) => (
        <p key={flag.title}>
          <b>{flag.title}.</b> {flag.text}
        </p>
      ))}
    </div>
  )
}

export interface Lines {
  period: string
  numbers: [string, string][]
  aside: string | null
  incomplete: boolean
  note: string
  flags: { title: string; text: string }[]
}

/** The lines of a point's readout, on screen and for a screen reader. */
export function readOut(chart: Chart, index: number): Lines {
  const { points, kpi, segments } = chart
  const position = points.position[index] ?? 0
  const segment = segments.find((item) => item.first <= position && position < item.stop)
  const value = points.value[index] ?? 0
  const range = points.moving_range[index] ?? null
  const distance = points.distance[index] ?? null
  const level = (number: number) => levelText(number, kpi.numbers)
  const centre = points.centre?.[index] ?? segment?.average ?? null
  const [upper, lower] = [
    points.upper?.[index] ?? segment?.upper ?? null,
    points.lower?.[index] ?? segment?.lower ?? null,
  ]
  const numbers: [string, string][] = [
    ['Value', fullText(value, kpi)],
    ...fractionOf(chart, index),
    ['Moving range', range === null ? 'none' : fullText(range, kpi)],
  ]
  if (centre !== null && distance !== null) {
    numbers.push([
      'From the average',
      `${signedLevel(distance, kpi.numbers)} from ${level(centre)}`,
    ])
  }
  if (lower !== null && upper !== null) {
    const note = segment?.firmness === 'provisional' ? ', provisional' : ''
    numbers.push(['Limits', `${level(lower)} to ${level(upper)}${note}`])
  }
  for (const line of [...drawnLines(chart), ...linesApart(chart)]) {
    const [above, under] = [line.above?.[index] ?? null, line.under?.[index] ?? null]
    if (above !== null && under !== null) {
      numbers.push([`Above ${lineName(line)}`, level(above)], ['Up to it', level(under)])
    } else if (line.course) {
      const height = line.course[index] ?? null
      const apart = line.differences?.[index] ?? null
      const text = height === null ? 'none' : level(height)
      numbers.push([
        lineName(line),
        apart === null ? text : `${text}, ${signedLevel(apart, kpi.numbers)}`,
      ])
    }
  }
  const off = chart.off_target.includes(position)
  if (off) numbers.push(['Target', 'not met'])
  return {
    period: longPeriod(points.period[index] ?? '', kpi.grain),
    numbers,
    aside: chart.set_aside.find((item) => item.position === position)?.reason ?? null,
    incomplete: position === chart.incomplete,
    note: chart.notes.find((item) => item.position === position)?.text ?? '',
    flags: chart.signals.filter((signal) => signal.points.includes(position)),
  }
}

/** Both numbers of a ratio: `92 of 98`. */
function fractionOf({ points }: Chart, index: number): [string, string][] {
  const [above, below] = [points.numerator?.[index] ?? null, points.denominator?.[index] ?? null]
  if (above === null || below === null) return []
  return [['Made of', `${plainNumber(above)} of ${plainNumber(below)}`]]
}

/** The same in one sentence, to be read aloud. */
export function spoken(chart: Chart, index: number): string {
  const lines = readOut(chart, index)
  return [
    lines.period,
    ...lines.numbers.map(([name, text]) => `${name} ${text}`),
    ...(lines.aside === null ? [] : [`Set aside: ${lines.aside}`]),
    ...(lines.incomplete ? ['Not over yet'] : []),
    ...(lines.note ? [`Note: ${lines.note}`] : []),
    ...lines.flags.map((flag) => `${flag.title}. ${flag.text}`),
  ].join('. ')
}
