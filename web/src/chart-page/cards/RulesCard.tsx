import { Checkbox, Stack } from '@mantine/core'
import { useVocabulary } from '../../api/vocabulary.ts'
import { useFalseAlarms } from '../data/context.ts'
import { useChartSession } from '../session/ChartSession.tsx'
import { CardSelect } from './CardSelect.tsx'
import { HowSoon } from './HowSoon.tsx'
import { SettingsForm } from './SettingsForm.tsx'
import { useSettings } from './useSettings.ts'

const RAISES = [
  { value: 'everything', label: 'Every signal' },
  { value: 'beyond_limits', label: 'Values beyond the limits only' },
  { value: 'nothing', label: 'Nothing' },
]

/** Which rules flag values, what that costs, and which signals become findings. */
export function RulesCard() {
  const { path, base } = useChartSession()
  const { rules, run_length, raises } = base.kpi
  const draft = useSettings({ rules, run_length: run_length as 7 | 8 | 9, raises })
  const { settings, set } = draft
  const vocabulary = useVocabulary()
  const cost = useFalseAlarms(path, settings.rules, settings.run_length)
  return (
    <SettingsForm label="Rules" draft={draft}>
      <Checkbox.Group
        label="Rules that flag signals"
        description={cost.data?.text ?? 'More rules find more, and cry wolf more.'}
        value={settings.rules}
        onChange={(rules) => set({ rules: rules as typeof settings.rules })}
      >
        <Stack mt="xs" gap={6}>
          {vocabulary?.rules.map(({ id, name, true_when }) => (
            <Checkbox key={id} value={id} label={name} title={true_when} size="xs" />
          ))}
        </Stack>
      </Checkbox.Group>
      <CardSelect
        label="A run is"
        data={(vocabulary?.run_lengths ?? [settings.run_length]).map((length) => ({
          value: String(length),
          label: `${length} or more in a row`,
        }))}
        value={String(settings.run_length)}
        onChange={(value) => set({ run_length: Number(value) as 7 | 8 | 9 })}
      />
      <CardSelect
        label="Findings are raised by"
        data={RAISES}
        value={settings.raises}
        onChange={(value) => set({ raises: value as typeof settings.raises })}
      />
      <HowSoon
        path={path}
        kpi={base.kpi}
        sigma={base.segments.at(-1)?.sigma ?? null}
        rules={settings.rules}
        runLength={settings.run_length}
      />
    </SettingsForm>
  )
}
