import { useId, useMemo } from 'react'
import { valueText } from '../../shared/numbers.ts'
import { useHairlineTime } from '../hairline.tsx'
import { linePath } from '../model/path.ts'
import { linear } from '../model/scale.ts'
import { fitted, textWidth } from '../text/measure.ts'
import { AXIS, DateAxis, FOOT, useFollow, ValueAxis } from './FramedChart.tsx'
import { commonReach, nearestTo, type Placed, place, type SmallChart, type Span } from './place.ts'
import { SmallPlot } from './SmallPlot.tsx'
import { WordsAtPoint } from './WordsAtPoint.tsx'

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
const LINE_HEIGHT = 13

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
  const size = { width: right, height: height - FOOT, left: AXIS }
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is placed follows from these
  const placed = useMemo(
    () => charts.map((chart) => place(chart, size, domain, reach)),
    [lines, width, height, domain, reach?.[0], reach?.[1]],
  )
  const base = placed[0]
  const follow = useFollow(base ?? NOWHERE)
  const clip = useId()
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

  const strongAt = lines.findIndex(({ key }) => key === strong)
  const [held, heldAt] = [lines[strongAt]?.chart, placed[strongAt]]
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
      <clipPath id={clip}>
        <rect x={AXIS} width={right - AXIS} height={height - FOOT} />
      </clipPath>
      <ValueAxis placed={base} numbers={numbers} count={5} />
      <DateAxis domain={domain} placed={base} y={height - 5} />
      {goal !== null && (
        <g data-part="goal">
          <path
            d={`M${AXIS},${base.y(goal)}H${right}`}
            stroke="var(--target)"
            strokeWidth={1.6}
            strokeDasharray="7 3 1.5 3"
          />
          <text
            x={AXIS + 4}
            y={base.y(goal) - 5}
            fontSize={11.5}
            fontWeight={600}
            fill="var(--target)"
          >
            goal {goalText}
          </text>
        </g>
      )}
      <g clipPath={`url(#${clip})`}>
        {held && heldAt && <SmallPlot chart={held} placed={heldAt} only="levels" />}
        {lines.map(({ key, name, chart }, n) => {
          const at = placed[n]
          if (!at || n === strongAt) return null
          const aside = new Set(chart.aside)
          return (
            <path
              key={key}
              data-line-of={name}
              d={linePath(at.times.length, (i) =>
                aside.has(i) ? null : [at.x(at.times[i] ?? 0), at.y(chart.value[i] ?? 0)],
              )}
              fill="none"
              stroke="var(--line-slate)"
              strokeOpacity={strong === null ? 0.8 : 0.35}
              strokeWidth={1.1}
            />
          )
        })}
        {held && heldAt && <SmallPlot chart={held} placed={heldAt} only="values" />}
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
      <At base={base} chart={held} placed={heldAt} right={right} />
    </svg>
  )
}

/** The hairline, and what it reads of the strong one: alone drawn anew as it moves. */
function At({
  base,
  chart,
  placed,
  right,
}: {
  base: Placed
  chart: SmallChart | undefined
  placed: Placed | undefined
  right: number
}) {
  const time = useHairlineTime()
  if (time === null) return null
  const n = placed && nearestTo(placed.times, time)
  const value = n === undefined ? undefined : chart?.value[n]
  return (
    <g pointerEvents="none">
      <path d={`M${base.x(time)},0V${base.height}`} stroke="var(--ink)" strokeDasharray="2 3" />
      {chart && placed && n !== undefined && value !== undefined && (
        <Read x={placed.x(placed.times[n] ?? 0)} y={placed.y(value)} right={right}>
          {valueText(value, chart.numbers)}
        </Read>
      )}
    </g>
  )
}

function Read({
  x,
  y,
  right,
  children,
}: {
  x: number
  y: number
  right: number
  children: string
}) {
  return (
    <>
      <circle cx={x} cy={y} r={3.6} fill="var(--card)" stroke="var(--ink)" strokeWidth={1.6} />
      <WordsAtPoint
        x={x}
        y={Math.max(12, y - 8)}
        gap={8}
        left={x + 10 + textWidth(children, 600) > right}
      >
        {children}
      </WordsAtPoint>
    </>
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
    one.y = Math.max(10, one.end, before ? before.y + LINE_HEIGHT : 0)
  })
  for (let n = ends.length - 1; n >= 0; n--) {
    const [one, after] = [ends[n], ends[n + 1]]
    if (one) one.y = Math.min(one.y, after ? after.y - LINE_HEIGHT : bottom)
  }
  return ends
}
