import { Link } from 'react-router'
import { MarkIcon } from '../chart/layers/Mark.tsx'
import type { Chart } from '../chart/model/types.ts'
import { formatNumber } from '../shared/numbers.ts'
import type { Judged, Value } from './values.ts'

interface Props {
  kpi: Chart['kpi']
  value: Value | undefined
  judged: Judged | null
  target: boolean
  segments: boolean
  /** The address of its point on the chart. */
  onChart: string
}

/** What stands in a row because the chart knows it, and the way to its point there. */
export function FromTheChart({ kpi, value, judged, target, segments, onChart }: Props) {
  const range = judged?.moving_range ?? null
  const says = judged?.says ?? []
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
        {judged?.mark && <MarkIcon kind={judged.mark} small />}
        {judged && says.length > 0 ? (
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
        <div role="gridcell" data-in="target" data-missed={judged?.met === false || undefined}>
          {judged?.met === true ? 'met' : judged?.met === false ? 'missed' : ''}
        </div>
      )}
      {segments && (
        <div role="gridcell" data-in="segment" className="quiet" title={judged?.segment}>
          {judged?.segment ?? ''}
        </div>
      )}
    </>
  )
}
