import { useElementSize } from '@mantine/hooks'
import { linear } from '../chart/model/scale.ts'
import { timesOf } from '../chart/model/time.ts'
import { DateAxis, ValueAxis } from '../chart/small/FramedChart.tsx'
import { amountText } from '../shared/numbers.ts'
import { shortPeriod } from '../shared/writing.ts'
import classes from './Compare.module.css'
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
const tone = (n: number) => TONES[n % TONES.length] ?? 'var(--sea)'
const HEIGHT = 300

/** Shares of a total: bars over all the dates, and stacked columns period by period. */
export function SharesView({ data, bare = false }: { data: Shares; bare?: boolean }) {
  const { ref, width } = useElementSize()
  const most = Math.max(...data.parts.map(({ share }) => share), 0.01)
  return (
    <>
      {!bare && <p className={classes.answer}>{data.sentence}</p>}
      <div className={classes.stacked}>
        <div className={`card ${classes.plot}`}>
          <dl className={classes.shares}>
            {data.parts.map(({ name, total, share }, n) => (
              <div key={name} style={{ display: 'contents' }}>
                <dt>{name}</dt>
                <dd>
                  <span
                    className={classes.bar}
                    style={{ width: `${Math.max(0, (100 * share) / most)}%`, background: tone(n) }}
                  />
                </dd>
                <dd>
                  <b>{(share * 100).toFixed(1)}%</b>{' '}
                  <span className="quiet">{amountText(total, data.numbers)}</span>
                </dd>
              </div>
            ))}
          </dl>
        </div>
        <div className={`card ${classes.plot}`} ref={ref}>
          {width > 0 && data.period.length > 0 && <Stack data={data} width={width - 28} />}
        </div>
      </div>
    </>
  )
}

function Stack({ data, width }: { data: Shares; width: number }) {
  const times = timesOf(data.period, data.grain)
  const sums = times.map((_, n) =>
    data.parts.reduce((sum, { values }) => sum + Math.max(0, values[n] ?? 0), 0),
  )
  const [from = 0, to = 1] = [times[0], times.at(-1)]
  const step = times.length > 1 ? (to - from) / (times.length - 1) : 1
  const domain = [from - step / 2, to + step / 2] as const
  const x = linear(domain, [50, width - 4])
  const y = linear([0, Math.max(...sums, 1) * 1.04], [HEIGHT - 18, 6])
  const column = Math.max(1.5, (x(step) - x(0)) * 0.8)
  const placed = { times, x, y, width, height: HEIGHT - 18 }
  return (
    <svg
      width={width}
      height={HEIGHT}
      role="img"
      aria-label={`${data.name} by ${data.grain}, stacked by its parts`}
    >
      <ValueAxis placed={placed} numbers={data.numbers} count={4} />
      <DateAxis domain={domain} placed={placed} y={HEIGHT - 4} />
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
              const height = y(below) - top
              below += value
              return (
                <rect
                  key={name}
                  x={x(time) - column / 2}
                  y={top}
                  width={column}
                  height={Math.max(0, height - 0.6)}
                  fill={tone(part)}
                />
              )
            })}
          </g>
        )
      })}
    </svg>
  )
}
