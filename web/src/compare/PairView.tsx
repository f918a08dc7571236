import { Slider, Switch } from '@mantine/core'
import { useElementSize } from '@mantine/hooks'
import { extent } from 'd3-array'
import { linear, type Scale } from '../chart/model/scale.ts'
import { fitted, textWidth } from '../chart/text/measure.ts'
import { tickText, valueText } from '../shared/numbers.ts'
import classes from './Compare.module.css'
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
const MARKS = [0, 3, 6, 9, 12].map((value) => ({ value, label: String(value) }))

interface Props {
  data: Pair
  onLag: ((lag: number) => void) | null
  onAsTheyAre: ((as: boolean) => void) | null
  asTheyAre: boolean
}

/** Two KPIs against each other: a scatter with its line, and how they go together with a lag. */
export function PairView({ data, onLag, onAsTheyAre, asTheyAre }: Props) {
  const { ref, width } = useElementSize()
  const side = Math.max(220, Math.min(width - 28, 520))
  return (
    <>
      {onLag && <p className={classes.answer}>{data.sentence}</p>}
      <p className={classes.how}>{data.caution}</p>
      {data.warning && (
        <div className={classes.warn} role="note">
          {data.warning}
          {onAsTheyAre && (
            <Switch
              mt={4}
              size="xs"
              label="Show them as they are"
              checked={asTheyAre}
              onChange={(event) => onAsTheyAre(event.currentTarget.checked)}
            />
          )}
        </div>
      )}
      <div className={onLag ? classes.beside : classes.stacked}>
        <div className={`card ${classes.plot}`} ref={ref}>
          {width > 0 && <Scatter data={data} side={side} />}
          {data.line && (
            <p className={classes.how} data-part="equation">
              {data.line.equation} · R² {data.line.r_squared.toFixed(2)} · n {data.n}
              {data.told < data.n && `, ${data.told.toLocaleString('en-US')} of them drawn`}
            </p>
          )}
          <Off data={data} />
        </div>
        <div className={`card ${classes.plot}`}>
          <b style={{ fontSize: 13 }}>
            Lag: {data.y.name}{' '}
            {data.lag === 0
              ? `in the same ${data.grain}`
              : `${data.lag} ${data.grain}${data.lag === 1 ? '' : 's'} later`}
          </b>
          {onLag && (
            <Slider
              mt="xs"
              mb="lg"
              min={0}
              max={12}
              marks={MARKS}
              thumbLabel="Lag"
              label={(lag) => `${lag} ${data.grain}s`}
              value={data.lag}
              onChange={onLag}
            />
          )}
          <LagCurve data={data} />
          <p className={classes.how}>{data.how}</p>
        </div>
      </div>
    </>
  )
}

function Scatter({ data, side }: { data: Pair; side: number }) {
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
      <clipPath id="scatter">
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
          clipPath="url(#scatter)"
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
            <text
              x={cx + (left ? -9 : 9)}
              y={cy + 4}
              textAnchor={left ? 'end' : 'start'}
              fontSize={11.5}
              fontWeight={600}
              fill="var(--ink)"
              stroke="var(--card)"
              strokeWidth={3}
              paintOrder="stroke"
            >
              {text}
            </text>
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

function Off({ data }: { data: Pair }) {
  const named = data.points.off.map((n) => data.points.label[n])
  if (named.length === 0) return null
  return <p className={classes.how}>Off the line: {named.join(', ')}.</p>
}

const [CURVE_WIDTH, CURVE_HEIGHT] = [420, 150]

/** The correlation at each lag, within the band that chance leaves room for. */
function LagCurve({ data }: { data: Pair }) {
  const x = linear([0, 12], [34, CURVE_WIDTH - 10])
  const y = linear([-1, 1], [CURVE_HEIGHT - 18, 8])
  const known = data.curve.filter((point) => point.noise !== null)
  return (
    <svg
      viewBox={`0 0 ${CURVE_WIDTH} ${CURVE_HEIGHT}`}
      width="100%"
      role="img"
      aria-label={`Correlation by lag: ${data.curve
        .map(({ lag, correlation }) => `${lag}: ${correlation?.toFixed(2) ?? 'none'}`)
        .join(', ')}`}
    >
      {known.map(({ lag, noise }) => (
        <rect
          key={lag}
          x={x(lag) - 15}
          width={30}
          y={y(Math.min(1, noise ?? 0))}
          height={y(-Math.min(1, noise ?? 0)) - y(Math.min(1, noise ?? 0))}
          fill="var(--mist)"
        />
      ))}
      <path d={`M34,${y(0)}H${CURVE_WIDTH - 10}`} stroke="var(--quiet)" />
      {[-1, 0, 1].map((tick) => (
        <text key={tick} x={28} y={y(tick) + 4} fontSize={11} textAnchor="end" fill="var(--quiet)">
          {tick < 0 ? '−1' : tick}
        </text>
      ))}
      {data.curve.map(({ lag, n, correlation }) => (
        <g key={lag}>
          {correlation !== null && (
            <>
              <path
                d={`M${x(lag)},${y(0)}V${y(correlation)}`}
                stroke={lag === data.lag ? 'var(--ink)' : 'var(--line-slate)'}
                strokeWidth={lag === data.lag ? 5 : 3}
              />
              <title>
                Lag {lag}: r {correlation.toFixed(2)}, {n} pairs
              </title>
            </>
          )}
          <text
            x={x(lag)}
            y={CURVE_HEIGHT - 3}
            fontSize={11}
            textAnchor="middle"
            fill="var(--quiet)"
          >
            {lag}
          </text>
        </g>
      ))}
    </svg>
  )
}
