import { linear } from '../chart/model/scale.ts'
import { timesOf } from '../chart/model/time.ts'
import { DateAxis, ValueAxis } from '../chart/small/FramedChart.tsx'
import { amountText } from '../shared/numbers.ts'
import { shortPeriod } from '../shared/writing.ts'
import type { Shares } from './compare.ts'

/** Tones of one color, told apart by their names beside them and by light and dark. */
const TONES = [
  'var(--sea)',
  'var(--line-ochre)',
  'var(--line-indigo)',
  'var(--line-clay)',
  'var(--line-slate)',
  'var(--target)',
  'var(--mark-run)',
  'var(--mark-near)',
]
export const shareTone = (n: number) => TONES[n % TONES.length] ?? 'var(--sea)'

interface Props {
  data: Shares
  width: number
  height: number
}

/** Stacked columns, period by period, of the parts of a total. */
export function ShareColumns({ data, width, height }: Props) {
  const times = timesOf(data.period, data.grain)
  const sums = times.map((_, n) =>
    data.parts.reduce((sum, { values }) => sum + Math.max(0, values[n] ?? 0), 0),
  )
  const [from = 0, to = 1] = [times[0], times.at(-1)]
  const step = times.length > 1 ? (to - from) / (times.length - 1) : 1
  const domain = [from - step / 2, to + step / 2] as const
  const x = linear(domain, [50, width - 4])
  const y = linear([0, Math.max(...sums, 1) * 1.04], [height - 18, 6])
  const column = Math.max(1.5, (x(step) - x(0)) * 0.8)
  const placed = { times, x, y, width, height: height - 18 }
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={`${data.name} by ${data.grain}, stacked by its parts`}
    >
      <ValueAxis placed={placed} numbers={data.numbers} count={4} />
      <DateAxis domain={domain} placed={placed} y={height - 4} />
      {times.map((time, n) => {
        let below = 0
        return (
          <g key={time}>
            <title>
              {shortPeriod(data.period[n] ?? '', data.grain)}:{' '}
              {data.parts
                .map(({ name, values }) => `${name} ${amountText(values[n] ?? 0, data.numbers)}`)
                .join(', ')}
            </title>
            {data.parts.map(({ name, values }, part) => {
              const value = Math.max(0, values[n] ?? 0)
              const top = y(below + value)
              const high = y(below) - top
              below += value
              return (
                <rect
                  key={name}
                  x={x(time) - column / 2}
                  y={top}
                  width={column}
                  height={Math.max(0, high - 0.6)}
                  fill={shareTone(part)}
                />
              )
            })}
          </g>
        )
      })}
    </svg>
  )
}
