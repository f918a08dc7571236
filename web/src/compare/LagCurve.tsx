import { linear } from '../chart/model/scale.ts'
import type { Pair } from './compare.ts'

const [CURVE_WIDTH, CURVE_HEIGHT] = [420, 150]

/** The correlation at each lag, within the band that chance leaves room for. */
export function LagCurve({ data, width = '100%' }: { data: Pair; width?: number | string }) {
  const x = linear([0, 12], [34, CURVE_WIDTH - 10])
  const y = linear([-1, 1], [CURVE_HEIGHT - 18, 8])
  const known = data.curve.filter((point) => point.noise !== null)
  return (
    <svg
      viewBox={`0 0 ${CURVE_WIDTH} ${CURVE_HEIGHT}`}
      width={width}
      {...(typeof width === 'number' ? { height: (width * CURVE_HEIGHT) / CURVE_WIDTH } : {})}
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
