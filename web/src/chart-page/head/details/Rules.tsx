import { Checkbox, Select, SimpleGrid } from '@mantine/core'
import { useVocabulary } from '../../../api/vocabulary.ts'
import { HowSoon } from '../../cards/HowSoon.tsx'
import type { KpiPath } from '../../data/chart.ts'
import { useFalseAlarms } from '../../data/context.ts'
import type { Fields, Kpi } from './fields.ts'

const RAISES = [
  { value: 'everything', label: 'Every signal' },
  { value: 'beyond_limits', label: 'Values beyond the limits only' },
  { value: 'nothing', label: 'Nothing' },
]

/** Which rules flag its values, what that costs, and which signals become findings. */
export function Rules({
  path,
  kpi,
  sigma,
  details,
  set,
}: Fields & { path: KpiPath; kpi: Kpi; sigma: number | null }) {
  const vocabulary = useVocabulary()
  const cost = useFalseAlarms(path, details.rules, details.run_length)
  return (
    <>
      <Checkbox.Group
        label="Rules that flag signals"
        description={cost.data?.text ?? 'More rules find more, and cry wolf more.'}
        value={details.rules}
        onChange={(rules) => set({ rules: rules as Kpi['rules'] })}
      >
        <SimpleGrid cols={{ base: 1, xs: 2 }} mt="xs" spacing="xs">
          {vocabulary?.rules.map(({ id, name, true_when }) => (
            <Checkbox key={id} value={id} label={name} title={true_when} size="xs" />
          ))}
        </SimpleGrid>
      </Checkbox.Group>
      <HowSoon {...{ path, kpi, sigma }} rules={details.rules} runLength={details.run_length} />
      <Select
        label="Findings are raised by"
        data={RAISES}
        allowDeselect={false}
        value={details.raises}
        onChange={(value) => set({ raises: value as Kpi['raises'] })}
      />
      <Select
        label="A run is"
        w={220}
        data={(vocabulary?.run_lengths ?? [details.run_length]).map((length) => ({
          value: String(length),
          label: `${length} or more in a row`,
        }))}
        allowDeselect={false}
        value={String(details.run_length)}
        onChange={(value) => set({ run_length: Number(value) as 7 | 8 | 9 })}
      />
    </>
  )
}
