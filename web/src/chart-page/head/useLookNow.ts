import { useChartSession } from '../session/ChartSession.tsx'
import { useShown } from '../session/useShown.ts'

/** How the chart is looked at now, as a view keeps it. */
export function useLookNow() {
  const { look } = useChartSession()
  const { hidden } = useShown()
  return {
    hidden,
    by: look.view.by ?? null,
    breakdown: look.breakdown,
    first: look.stretch?.first ?? null,
    last: look.stretch?.last ?? null,
  }
}
