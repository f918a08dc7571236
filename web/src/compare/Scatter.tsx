import { extent } from 'd3-array'
import { useId } from 'react'
import { linear, type Scale } from '../chart/model/scale.ts'
import { WordsAtPoint } from '../chart/small/WordsAtPoint.tsx'
import { fitted, textWidth } from '../chart/text/measure.ts'
import { tickText, valueText } from '../shared/numbers.ts'
import type { Pair } from './compare.ts'

const COLORS = [
  'var(--ink)',
  'var(--line-indigo)',
  'var(--line-clay)',
  'var(--line-ochre)',
  'var(--mark-run)',
]
const LEFT = 54
const FOOT = 40
/** The pairs of two KPIs in a square, with their line; those that fall off it are named. */
export function Scatter({ data, side }: { data: Pair; side: number }) {
  const clip = useId()
  const { x, y, label, segment, off } = data.points
  const scaleOf = (values: number[], from: number, to: number) => {
    const [low = 0, high = 1] = extent(values)
    const room = high > low ? (high - low) * 0.06 : 1
    return linear([low - room, high + room], [from, to])
  }
  const [px, py] = [scaleOf(x, LEFT, side - 8), scaleOf(y, side - FOOT, 10)]
  const [from, to] = px.domain
  const line = data.line
  const at = (value: number) => (line ? line.start + line.slope * value : 0)
  const shownSegments = [...new Set(segment)]
  return (
    <svg
      width={side}
      height={side}
      role="img"
      aria-label={`${data.y.name} over ${data.x.name}: ${data.n} pairs. ${data.sentence}`}
    >
      <clipPath id={clip}>
        <rect x={LEFT} y={6} width={side - LEFT - 4} height={side - FOOT - 6} />
      </clipPath>
      <Axis scale={py} numbers={data.y.numbers} at={LEFT} side={side} vertical />
      <Axis scale={px} numbers={data.x.numbers} at={side - FOOT} side={side} />
      <text x={(LEFT + side) / 2} y={side - 6} textAnchor="middle" fontSize={12} fill="var(--ink)">
        {fitted(nameOf(data.x, data), side - 80)}
      </text>
      <text
        transform={`translate(12 ${(side - FOOT) / 2}) rotate(-90)`}
        textAnchor="middle"
        fontSize={12}
        fill="var(--ink)"
      >
        {fitted(nameOf(data.y, data), side - 80)}
      </text>
      {line && (
        <path
          clipPath={`url(#${clip})`}
          d={`M${px(from)},${py(at(from))}L${px(to)},${py(at(to))}`}
          stroke="var(--sea)"
          strokeWidth={1.8}
          data-part="line"
        />
      )}
      {x.map((value, n) => (
        <circle
          // biome-ignore lint/suspicious/noArrayIndexKey: a pair is known by its place
          key={n}
          cx={px(value)}
          cy={py(y[n] ?? 0)}
          r={data.told > 400 ? 1.8 : 3}
          fill={COLORS[(segment[n] ?? 0) % COLORS.length]}
          fillOpacity={0.75}
        >
          <title>
            {label[n]}: {valueText(value, data.x.numbers)} and{' '}
            {valueText(y[n] ?? 0, data.y.numbers)}
          </title>
        </circle>
      ))}
      {off.map((n) => {
        const [cx, cy] = [px(x[n] ?? 0), py(y[n] ?? 0)]
        const text = label[n] ?? ''
        const left = cx + 9 + textWidth(text, 600) > side
        return (
          <g key={n} data-part="off">
            <circle
              cx={cx}
              cy={cy}
              r={6}
              fill="none"
              stroke="var(--mark-outside)"
              strokeWidth={1.6}
            />
            <WordsAtPoint x={cx} y={cy + 4} gap={9} left={left}>
              {text}
            </WordsAtPoint>
          </g>
        )
      })}
      {shownSegments.length > 1 &&
        shownSegments.map((number, n) => (
          <g key={number} transform={`translate(${LEFT + 8} ${18 + 15 * n})`}>
            <circle r={3} cx={0} cy={-4} fill={COLORS[number % COLORS.length]} />
            <text
              x={8}
              fontSize={11.5}
              fill="var(--ink)"
              stroke="var(--card)"
              strokeWidth={3}
              paintOrder="stroke"
            >
              {data.segments[number]}
            </text>
          </g>
        ))}
    </svg>
  )
}

const nameOf = (side: Pair['x'], { on_residuals }: Pair) =>
  [side.name, side.unit && `(${side.unit})`, on_residuals && 'without what they share']
    .filter(Boolean)
    .join(' ')

function Axis({
  scale,
  numbers,
  at,
  side,
  vertical = false,
}: {
  scale: Scale
  numbers: Pair['x']['numbers']
  at: number
  side: number
  vertical?: boolean
}) {
  const ticks = scale.ticks(5)
  const step = (ticks[1] ?? 1) - (ticks[0] ?? 0)
  return (
    <g fontSize={11} fill="var(--quiet)">
      {ticks.map((tick) => {
        const px = scale(tick)
        return (
          <g key={tick}>
            <path
              d={vertical ? `M${at},${px}H${side - 4}` : `M${px},6V${at}`}
              stroke="var(--hairline)"
              strokeWidth={0.6}
            />
            <text
              x={vertical ? at - 6 : px}
              y={vertical ? px + 4 : at + 14}
              textAnchor={vertical ? 'end' : 'middle'}
            >
              {tickText(tick, step, numbers)}
            </text>
          </g>
        )
      })}
    </g>
  )
}
