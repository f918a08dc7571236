import { Select, SimpleGrid } from '@mantine/core'
import { useAggregations } from '../../../api/vocabulary.ts'
import { MONTH_NAMES, WEEKDAYS } from '../../../shared/calendarNames.ts'
import { timeZones } from '../../../shared/timeZones.ts'
import type { Fields, Kpi } from './fields.ts'

/** When its days, weeks and years begin, and how several values become one. */
export function Calendar({ details, set }: Fields) {
  const aggregations = useAggregations()
  return (
    <SimpleGrid cols={{ base: 1, xs: 2 }}>
      <Select
        label="Several values become one by"
        description="For coarser grains, and across breakdowns"
        data={aggregations}
        allowDeselect={false}
        value={details.aggregation}
        onChange={(value) => set({ aggregation: value as Kpi['aggregation'] })}
      />
      <Select
        label="Time zone"
        description="In which its days begin"
        searchable
        data={timeZones()}
        allowDeselect={false}
        value={details.time_zone}
        onChange={(value) => set({ time_zone: value ?? details.time_zone })}
      />
      <Select
        label="Weeks begin on"
        data={WEEKDAYS}
        allowDeselect={false}
        value={String(details.first_weekday)}
        onChange={(value) => set({ first_weekday: Number(value) })}
      />
      <Select
        label="Years begin in"
        data={MONTH_NAMES}
        allowDeselect={false}
        value={String(details.first_month)}
        onChange={(value) => set({ first_month: Number(value) })}
      />
    </SimpleGrid>
  )
}
