import type { Chart } from '../../chart/model/types.ts'
import { TwoDays } from '../../shared/day/TwoDays.tsx'
import { fromDays, type Stretch } from '../session/drafts/stretch.ts'

/** Two days of a chart that are typed or picked. */
export function TypedDates({
  stretch,
  chart,
  newest,
  onChange,
}: {
  stretch: Stretch | null
  chart: Chart
  newest: string
  onChange: (stretch: Stretch) => void
}) {
  return (
    <TwoDays
      first={(stretch?.first ?? chart.points.period[0] ?? '').slice(0, 10)}
      last={stretch?.last.slice(0, 10) ?? newest}
      onChoose={(first, last) => onChange(fromDays(first, last, chart.kpi.grain))}
    />
  )
}
