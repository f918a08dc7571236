import { useAggregations } from '../../api/vocabulary.ts'
import { MONTH_NAMES, WEEKDAYS } from '../../shared/calendarNames.ts'
import { timeZones } from '../../shared/timeZones.ts'
import { useChartSession } from '../session/ChartSession.tsx'
import { CardSelect } from './CardSelect.tsx'
import { SettingsForm } from './SettingsForm.tsx'
import { useSettings } from './useSettings.ts'

/** When its days, weeks and years begin, and how several values become one. */
export function CalendarCard() {
  const { base } = useChartSession()
  const { aggregation, time_zone, first_weekday, first_month } = base.kpi
  const draft = useSettings({ aggregation, time_zone, first_weekday, first_month })
  const { settings, set } = draft
  const aggregations = useAggregations()
  return (
    <SettingsForm label="Calendar" draft={draft}>
      <CardSelect
        data-autofocus
        label="Several values become one by"
        description="For coarser grains, and across breakdowns"
        data={aggregations}
        value={settings.aggregation}
        onChange={(value) => set({ aggregation: value as typeof settings.aggregation })}
      />
      <CardSelect
        label="Time zone"
        description="In which its days begin"
        searchable
        data={timeZones()}
        value={settings.time_zone}
        onChange={(value) => set({ time_zone: value ?? settings.time_zone })}
      />
      <CardSelect
        label="Weeks begin on"
        data={WEEKDAYS}
        value={String(settings.first_weekday)}
        onChange={(value) => set({ first_weekday: Number(value) })}
      />
      <CardSelect
        label="Years begin in"
        data={MONTH_NAMES}
        value={String(settings.first_month)}
        onChange={(value) => set({ first_month: Number(value) })}
      />
    </SettingsForm>
  )
}
