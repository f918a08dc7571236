import { Button, NumberInput, Select, SimpleGrid, Stack, Text, TextInput } from '@mantine/core'
import { Notice } from '../app/Notice.tsx'
import { counted } from '../chart/format.ts'
import { DIRECTIONS } from '../kpi/KpiDetails.tsx'
import type { Details, Reading } from './table.ts'

interface Props {
  reading: Reading
  details: Details
  onChange: (details: Details) => void
  ready: boolean
  /** Why it cannot be saved yet, where that is not plain from the form. */
  why: string | null
  saving: boolean
  error: Error | null
  onSave: () => void
}

/** What the new KPI is called and how its values are to be read. */
export function DetailsForm({
  reading,
  details,
  onChange,
  ready,
  why,
  saving,
  error,
  onSave,
}: Props) {
  const set = (changes: Details) => onChange({ ...details, ...changes })
  const number = (value: string | number) => (value === '' ? null : Number(value))
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (ready) onSave()
      }}
    >
      <Stack gap="sm">
        <TextInput
          label="Name"
          required
          withAsterisk={false}
          maxLength={80}
          value={details.name ?? reading.name}
          onChange={(event) => set({ name: event.currentTarget.value })}
        />
        <SimpleGrid cols={2} spacing="sm">
          <TextInput
            label="Unit"
            maxLength={20}
            value={details.unit ?? reading.unit}
            onChange={(event) => set({ unit: event.currentTarget.value })}
          />
          <TextInput
            label="Group"
            maxLength={60}
            placeholder="Quays"
            value={details.group ?? ''}
            onChange={(event) => set({ group: event.currentTarget.value })}
          />
          <Select
            label="Wanted direction"
            data={DIRECTIONS}
            allowDeselect={false}
            value={details.direction ?? 'neither'}
            onChange={(value) => set({ direction: (value ?? 'neither') as Details['direction'] })}
          />
          <NumberInput
            label="Decimals"
            min={0}
            max={6}
            allowDecimal={false}
            value={details.decimals ?? reading.decimals}
            onChange={(value) => set({ decimals: Number(value) || 0 })}
          />
          <NumberInput
            label="Target"
            value={details.target ?? ''}
            onChange={(value) => set({ target: number(value) })}
          />
          <NumberInput
            label="Floor"
            placeholder="0 for counts"
            value={details.floor ?? ''}
            onChange={(value) => set({ floor: number(value) })}
          />
        </SimpleGrid>
        {error && <Notice error={error} />}
        <Button type="submit" disabled={!ready} loading={saving}>
          Save {counted(reading.value_count, 'value')} as a KPI
        </Button>
        {why && (
          <Text size="sm" c="dimmed">
            {why}
          </Text>
        )}
      </Stack>
    </form>
  )
}
