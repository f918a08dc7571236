import { Skeleton } from '@mantine/core'
import { ChartView } from '../chart/ChartView.tsx'
import { positionsWithin } from '../chart/model/positions.ts'
import { ALL_SHOWN } from '../chart/model/types.ts'
import { useChart } from '../chart-page/data/chart.ts'
import type { FindingDetail } from './findings.ts'

const HEIGHT = 230

/** The chart of a finding with its points lit, small, beside the log. */
export function OnItsChart({ workspace, finding }: { workspace: string; finding: FindingDetail }) {
  const chart = useChart({ workspace, kpi: finding.kpi }, { width: 400 })
  if (chart.isPending) return <Skeleton height={HEIGHT} aria-label="Loading the chart" />
  // The finding says all that matters without it.
  if (!chart.data) return null
  const lit = positionsWithin(chart.data, finding.first, finding.last)
  return <ChartView chart={chart.data} shown={ALL_SHOWN} height={HEIGHT} lit={lit} />
}
