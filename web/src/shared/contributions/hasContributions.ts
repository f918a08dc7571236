import type { Schemas } from '../../api/client.ts'

/** Whether there is anything that a value of a KPI could be shared out among. */
export function hasContributions(kpi: Schemas['Kpi']): boolean {
  return kpi.breakdowns.length > 1 || kpi.aggregation === 'ratio' || kpi.derivation !== null
}
