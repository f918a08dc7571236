import type { Chart } from '../../../chart/model/types.ts'

export type Kpi = Chart['kpi']

/** What the form of a KPI holds, as it was when it opened. */
export function detailsOf(kpi: Kpi) {
  return {
    name: kpi.name,
    group: kpi.group,
    unit: kpi.unit,
    decimals: kpi.decimals,
    shown_in: kpi.shown_in,
    drawn_as: kpi.drawn_as,
    raises: kpi.raises,
    direction: kpi.direction,
    floor: kpi.floor,
    ceiling: kpi.ceiling,
    target: kpi.target,
    aggregation: kpi.aggregation,
    time_zone: kpi.time_zone,
    first_weekday: kpi.first_weekday,
    first_month: kpi.first_month,
    rules: kpi.rules,
    run_length: kpi.run_length as 7 | 8 | 9,
  }
}

export type Details = ReturnType<typeof detailsOf>

/** A part of the form: what stands in it, and how a change of it is told. */
export interface Fields {
  details: Details
  set: (changes: Partial<Details>) => void
}
