import { extent } from 'd3-array'
import type { KpiRow } from '../../shared/kpis.ts'
import { Mark } from '../layers/Mark.tsx'
import { linePath } from '../model/path.ts'
import { linear } from '../model/scale.ts'

const WIDTH = 84
const HEIGHT = 20
const PAD = 4

/** The last few values of a KPI, with the mark of its newest signal where it is among them. */
export function Strip({ values, signal }: { values: number[]; signal: KpiRow['signal'] }) {
  const [low = 0, high = 1] = extent(values)
  const x = linear([0, Math.max(1, values.length - 1)], [PAD, WIDTH - PAD])
  const y = linear(low === high ? [low - 1, high + 1] : [low, high], [HEIGHT - PAD, PAD])
  const path = linePath(values.length, (n) => [x(n), y(values[n] ?? 0)])
  const marked = signal ? values[signal.strip_index] : undefined
  return (
    <svg
      width={WIDTH}
      height={HEIGHT}
      aria-hidden="true"
      focusable="false"
      style={{ flex: 'none' }}
    >
      <path d={path} fill="none" stroke="#8fb9bb" strokeWidth={1.2} />
      {signal && marked !== undefined && (
        <g fill="#ff86b4" stroke="none">
          <Mark kind={signal.mark} x={x(signal.strip_index)} y={y(marked)} size={3.6} plain />
        </g>
      )}
    </svg>
  )
}
