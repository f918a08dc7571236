// What a person wants changed of a chart, whatever the chart is by then.
import { Problem } from '../../api/client.ts'
import type { Chart, Settings } from './chart.ts'

/** What to change: settings, or how they follow from the chart as it is then; null: nothing. */
export type Intent = Settings | ((chart: Chart) => Settings | null)

/** Settings of an intent for a chart; throws where it has no room there any more. */
export function settle(intent: Intent, chart: Chart): Settings {
  const settings = typeof intent === 'function' ? intent(chart) : intent
  if (settings === null) throw new Problem(0, 'There is no room for this on the chart any more.')
  return settings
}
