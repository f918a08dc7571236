import { Mark } from '../../../chart/layers/Mark.tsx'
import { linePath } from '../../../chart/model/path.ts'
import type { Chart } from '../../../chart/model/types.ts'
import { runOf, type Term } from './terms.ts'

const [WIDTH, HEIGHT, EDGE] = [250, 84, 8]
/** Points that can be told apart in so small a picture. */
const MOST = 26

interface Point {
  position: number
  period: string
  value: number
}

/** What a word means, drawn on the newest points of the chart itself. */
export function TermPicture({ term, chart }: { term: Term; chart: Chart }) {
  const shown = pointsFor(term, chart)
  const segment = chart.segments.at(-1)
  const levels = [segment?.lower, segment?.average, segment?.upper].filter((level) => level != null)
  const values = [...shown.map(({ value }) => value), ...levels]
  const [low, high] = [Math.min(...values), Math.max(...values)]
  const x = (n: number) => EDGE + (n * (WIDTH - 2 * EDGE)) / Math.max(1, shown.length - 1)
  const y = (value: number) =>
    high > low ? HEIGHT - EDGE - ((value - low) * (HEIGHT - 2 * EDGE)) / (high - low) : HEIGHT / 2
  const path = linePath(shown.length, (n) => [x(n), y(shown[n]?.value ?? 0)])
  const flat = (level: number) => `M0,${y(level)}H${WIDTH}`
  const run = new Set(term === 'run' ? runOf(chart)?.points : [])
  const parts = term === 'segment' ? chart.segments.length : 0
  const [first, last] = segment?.window ?? []
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true" focusable="false">
      {parts > 1 &&
        shown.map(({ position }, n) => {
          const of = chart.segments.findIndex(
            ({ first, stop }) => position >= first && position < stop,
          )
          return (
            of % 2 === 0 && (
              <rect key={position} x={x(n) - 5} width={10} height={HEIGHT} fill="var(--mist)" />
            )
          )
        })}
      {term === 'baseline' && first && last && (
        <Stretch inside={shown.map(({ period }) => period >= first && period <= last)} x={x} />
      )}
      {['natural-process-limits', 'predictable'].includes(term) &&
        segment?.lower != null &&
        segment.upper != null && (
          <>
            <rect
              y={y(segment.upper)}
              width={WIDTH}
              height={Math.max(0, y(segment.lower) - y(segment.upper))}
              fill="var(--mist)"
            />
            <path
              d={flat(segment.upper) + flat(segment.lower)}
              stroke="var(--sea)"
              strokeDasharray="6 4"
            />
          </>
        )}
      {['average', 'run'].includes(term) && segment?.average != null && (
        <path d={flat(segment.average)} stroke="var(--sea)" strokeWidth={2} />
      )}
      <path d={path} fill="none" stroke="var(--quiet)" />
      {shown.map(({ position, value }, n) => (
        <circle key={position} cx={x(n)} cy={y(value)} r={2.2} fill="var(--ink)" />
      ))}
      {term === 'moving-range' &&
        shown.slice(1).map(({ position, value }, n) => (
          // A step in height alone: what lies between two values, not when.
          <path
            key={position}
            d={`M${x(n + 1)},${y(shown[n]?.value ?? value)}V${y(value)}`}
            stroke="var(--mark-run)"
            strokeWidth={3}
          />
        ))}
      {shown.map(
        ({ position, value }, n) =>
          run.has(position) && <Mark key={position} kind="run" x={x(n)} y={y(value)} size={4} />,
      )}
    </svg>
  )
}

function Stretch({ inside, x }: { inside: boolean[]; x: (n: number) => number }) {
  const [from, to] = [inside.indexOf(true), inside.lastIndexOf(true)]
  if (from < 0) return null
  return <rect x={x(from) - 4} width={x(to) - x(from) + 8} height={HEIGHT} fill="var(--mist)" />
}

/** The points a word is shown on: the newest ones, those around a run, or some of all segments. */
function pointsFor(term: Term, chart: Chart): Point[] {
  const { position, period, value } = chart.points
  const all = position.map((at, n) => ({
    position: at,
    period: period[n] ?? '',
    value: value[n] ?? 0,
  }))
  if (term === 'segment' || term === 'baseline') {
    const every = Math.max(1, Math.ceil(all.length / (2 * MOST)))
    return all.filter((_, n) => n % every === 0)
  }
  const last = term === 'run' ? runOf(chart)?.points.at(-1) : undefined
  const end = last === undefined ? all.length : all.findIndex((one) => one.position === last) + 4
  return all.slice(Math.max(0, end - MOST), end)
}
