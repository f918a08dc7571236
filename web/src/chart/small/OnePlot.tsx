import { useMemo } from 'react'
import { valueText } from '../../shared/numbers.ts'
import { useHairlineTime } from '../hairline.tsx'
import { linePath } from '../model/path.ts'
import { linear } from '../model/scale.ts'
import { fitted, textWidth } from '../text/measure.ts'
import { Beside } from './Beside.tsx'
import { DateAxis, FOOT, useFollow, ValueAxis } from './FramedChart.tsx'
import { commonReach, nearestTo, type Placed, place, type SmallChart, type Span } from './place.ts'
import { SmallPlot } from './SmallPlot.tsx'

export interface PlotLine {
  key: string
  name: string
  chart: SmallChart
}

interface Props {
  lines: PlotLine[]
  /** The one that is drawn in ink, with its limits; the others step back. */
  strong: string | null
  onStrong: (key: string | null) => void
  goal?: number | null
  goalText?: string
  /** Where the axis begins and ends; by itself it fits the data. */
  fixed?: Span | null
  domain: Span
  width: number
  height: number
  label: string
}

/** The most that the names at the lines' ends get. */
const NAMES = 170
const APART = 13

/** Several charts on one plot: one strong, the others quiet, their names at the lines' ends. */
export function OnePlot(props: Props) {
  const {
    lines,
    strong,
    onStrong,
    goal = null,
    goalText = '',
    fixed,
    domain,
    width,
    height,
  } = props
  const charts = lines.map(({ chart }) => chart)
  const fit = commonReach(charts)
  const reach: Span | null =
    fixed ?? (fit && goal !== null ? [Math.min(fit[0], goal), Math.max(fit[1], goal)] : fit)
  const longest = Math.max(...lines.map(({ name }) => textWidth(name, 700)), 40)
  const room = Math.min(longest + 18, NAMES, width * 0.3)
  const right = width - room
  const size = { width: right, height: height - FOOT, left: 46 }
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is placed follows from these
  const placed = useMemo(
    () => charts.map((chart) => place(chart, size, domain, reach)),
    [lines, width, height, domain, reach?.[0], reach?.[1]],
  )
  const base = placed[0]
  const follow = useFollow(base ?? NOWHERE)
  const time = useHairlineTime()
  if (!base || !lines[0]) return null
  const { numbers } = lines[0].chart
  const nearestAtEnd = endsOf(lines, placed)

  function choose(py: number, px: number) {
    const near = lines
      .map(({ key, chart }, n) => {
        const { times, x, y } = placed[n] ?? NOWHERE
        const at = nearestTo(times, x.invert(px))
        return { key, away: at === undefined ? Infinity : Math.abs(y(chart.value[at] ?? 0) - py) }
      })
      .sort((one, other) => one.away - other.away)[0]
    if (near && near.away < 30) onStrong(near.key)
  }

  const order = [...lines.keys()].sort(
    (a, b) => Number(lines[a]?.key === strong) - Number(lines[b]?.key === strong),
  )
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the table beside it takes the keys
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={props.label}
      {...follow}
      onClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect()
        choose(event.clientY - box.top, event.clientX - box.left)
      }}
    >
      <clipPath id={`plot-${props.label}`}>
        <rect x={46} width={right - 46} height={height - FOOT} />
      </clipPath>
      <ValueAxis placed={base} numbers={numbers} count={5} />
      <DateAxis domain={domain} placed={base} y={height - 5} />
      {goal !== null && (
        <g data-part="goal">
          <path
            d={`M46,${base.y(goal)}H${right}`}
            stroke="var(--target)"
            strokeWidth={1.6}
            strokeDasharray="7 3 1.5 3"
          />
          <text x={50} y={base.y(goal) - 5} fontSize={11.5} fontWeight={600} fill="var(--target)">
            goal {goalText}
          </text>
        </g>
      )}
      <g clipPath={`url(#plot-${props.label})`}>
        {lines.map(
          ({ key, chart }, n) =>
            key === strong && (
              <SmallPlot key={key} chart={chart} placed={placed[n] ?? base} only="levels" />
            ),
        )}
        {order.map((n) => {
          const [line, at] = [lines[n], placed[n]]
          if (!line || !at) return null
          if (line.key === strong)
            return <SmallPlot key={line.key} chart={line.chart} placed={at} only="values" />
          const aside = new Set(line.chart.aside)
          return (
            <path
              key={line.key}
              data-line-of={line.name}
              d={linePath(at.times.length, (i) =>
                aside.has(i) ? null : [at.x(at.times[i] ?? 0), at.y(line.chart.value[i] ?? 0)],
              )}
              fill="none"
              stroke="var(--line-slate)"
              strokeOpacity={strong === null ? 0.8 : 0.35}
              strokeWidth={1.1}
            />
          )
        })}
      </g>
      {nearestAtEnd.map(({ key, name, y, end }) => (
        <g key={key} onPointerEnter={() => onStrong(key)} style={{ cursor: 'pointer' }}>
          <path d={`M${right - 2},${end}L${right + 7},${y}`} stroke="var(--hairline)" fill="none" />
          <text
            x={right + 10}
            y={y + 4}
            fontSize={11.5}
            fontWeight={key === strong ? 700 : 400}
            fill={key === strong || strong === null ? 'var(--ink)' : 'var(--quiet)'}
          >
            <title>{name}</title>
            {fitted(name, room - 14, key === strong ? 700 : 400)}
          </text>
        </g>
      ))}
      {time !== null && (
        <g pointerEvents="none">
          <path
            d={`M${base.x(time)},0V${height - FOOT}`}
            stroke="var(--ink)"
            strokeDasharray="2 3"
          />
          {lines.map(({ key, chart }, n) => {
            if (key !== strong) return null
            const at = placed[n] ?? base
            const i = nearestTo(at.times, time)
            if (i === undefined) return null
            const text = valueText(chart.value[i] ?? 0, chart.numbers)
            const px = at.x(at.times[i] ?? 0)
            const left = px + 10 + textWidth(text, 600) > right
            return (
              <g key={key}>
                <circle
                  cx={px}
                  cy={at.y(chart.value[i] ?? 0)}
                  r={3.6}
                  fill="var(--card)"
                  stroke="var(--ink)"
                  strokeWidth={1.6}
                />
                <Beside x={px} y={Math.max(12, at.y(chart.value[i] ?? 0) - 8)} gap={8} left={left}>
                  {text}
                </Beside>
              </g>
            )
          })}
        </g>
      )}
    </svg>
  )
}

const NOWHERE: Placed = {
  times: [],
  x: linear([0, 1], [0, 1]),
  y: linear([0, 1], [0, 1]),
  width: 0,
  height: 0,
}
/** Where the names at the lines' ends stand: beside their ends, and apart from each other. */
function endsOf(lines: PlotLine[], placed: ReturnType<typeof place>[]) {
  const ends = lines
    .map(({ key, name, chart }, n) => {
      const y = placed[n]?.y
      const last = chart.value.at(-1)
      const end = y && last !== undefined ? y(last) : 0
      return { key, name, end, y: end }
    })
    .sort((one, other) => one.end - other.end)
  const bottom = (placed[0]?.height ?? 0) - 4
  ends.forEach((one, n) => {
    const before = ends[n - 1]
    one.y = Math.max(10, one.end, before ? before.y + APART : 0)
  })
  for (let n = ends.length - 1; n >= 0; n--) {
    const [one, after] = [ends[n], ends[n + 1]]
    if (one) one.y = Math.min(one.y, after ? after.y - APART : bottom)
  }
  return ends
}
