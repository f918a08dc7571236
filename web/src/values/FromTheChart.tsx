import { Link } from 'react-router'
import { Mark } from '../chart/layers/Mark.tsx'
import type { Chart } from '../chart/model/types.ts'
import type { Place } from '../chart-page/data/chart.ts'
import { formatNumber } from '../shared/numbers.ts'
import classes from './Values.module.css'
import type { Judged, Value } from './values.ts'

interface Props {
  place: Place
  kpi: Chart['kpi']
  value: Value | undefined
  judged: Judged | null
  target: boolean
  segments: boolean
}

/** What stands in a row because the chart knows it, and the way to its point there. */
export function FromTheChart({ place, kpi, value, judged, target, segments }: Props) {
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
        {judged?.mark && (
          <svg width={14} height={14} aria-hidden="true" focusable="false" className={classes.mark}>
            <Mark kind={judged.mark} x={7} y={7} size={4.4} />
          </svg>
        )}
        {judged && says.length > 0 ? (
          <Link to={`/${place.workspace}/charts/${place.kpi}?point=${judged.period}`}>
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
