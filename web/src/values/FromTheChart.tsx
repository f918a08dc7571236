import { Link } from 'react-router'
import { MarkIcon } from '../chart/layers/Mark.tsx'
import type { Chart } from '../chart/model/types.ts'
import { formatNumber } from '../shared/numbers.ts'
import type { Value, ValueOnChart } from './values.ts'

interface Props {
  kpi: Chart['kpi']
  value: Value | undefined
  point: ValueOnChart | null
  target: boolean
  segments: boolean
  /** The address of its point on the chart. */
  onChart: string
}

/** What stands in a row because the chart knows it, and the way to its point there. */
export function FromTheChart({ kpi, value, point, target, segments, onChart }: Props) {
  const range = point?.moving_range ?? null
  const says = point?.says ?? []
  return (
    <>
      <div role="gridcell" data-in="range" className="quiet">
        {range === null ? '' : formatNumber(range, kpi.decimals)}
      </div>
      <div
        role="gridcell"
        data-in="says"
        title={[...says, value?.reason].filter(Boolean).join('. ')}
      >
        {point?.mark && <MarkIcon kind={point.mark} small />}
        {point && says.length > 0 ? (
          <Link to={onChart}>
            {says[0]}
            {says.length > 1 && ` and ${says.length - 1} more`}
          </Link>
        ) : value?.set_aside ? (
          `Set aside: ${value.reason}`
        ) : (
          ''
        )}
      </div>
      {target && (
        <div role="gridcell" data-in="target" data-missed={point?.met === false || undefined}>
          {point?.met === true ? 'met' : point?.met === false ? 'missed' : ''}
        </div>
      )}
      {segments && (
        <div role="gridcell" data-in="segment" className="quiet" title={point?.segment}>
          {point?.segment ?? ''}
        </div>
      )}
    </>
  )
}
