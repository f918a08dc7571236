import { NumberInput, Select, SimpleGrid, TextInput } from '@mantine/core'
import { DIRECTIONS } from '../../../shared/directions.ts'
import { entered } from '../../../shared/entered.ts'
import type { Fields, Kpi } from './fields.ts'

const SHOWN_IN = [
  { value: 'automatic', label: 'By their size' },
  { value: 'ones', label: 'Ones' },
  { value: 'thousands', label: 'Thousands' },
  { value: 'millions', label: 'Millions' },
  { value: 'billions', label: 'Billions' },
  { value: 'trillions', label: 'Trillions' },
]
const DRAWN_AS = [
  { value: 'points', label: 'Points, with limits' },
  { value: 'steps', label: 'Steps: a value holds until it changes' },
]
/** What a KPI is called, and the scale that its values are read and drawn on. */
export function NameAndScale({ details, set }: Fields) {
  return (
    <SimpleGrid cols={{ base: 1, xs: 2 }}>
      <TextInput
        label="Name"
        required
        withAsterisk={false}
        maxLength={120}
        value={details.name}
        onChange={(event) => set({ name: event.currentTarget.value })}
      />
      <TextInput
        label="Group"
        maxLength={60}
        value={details.group}
        onChange={(event) => set({ group: event.currentTarget.value })}
      />
      <TextInput
        label="Unit"
        maxLength={30}
        value={details.unit}
        onChange={(event) => set({ unit: event.currentTarget.value })}
      />
      <NumberInput
        label="Decimals"
        min={0}
        max={12}
        allowDecimal={false}
        value={details.decimals}
        onChange={(value) => set({ decimals: Number(value) || 0 })}
      />
      <Select
        label="Numbers shown in"
        data={SHOWN_IN}
        allowDeselect={false}
        value={details.shown_in}
        onChange={(value) => set({ shown_in: value as Kpi['shown_in'] })}
      />
      <Select
        label="Drawn as"
        data={DRAWN_AS}
        allowDeselect={false}
        value={details.drawn_as}
        onChange={(value) => set({ drawn_as: value as Kpi['drawn_as'] })}
      />
      <Select
        label="Wanted direction"
        data={DIRECTIONS}
        allowDeselect={false}
        value={details.direction}
        onChange={(value) => set({ direction: (value ?? 'neither') as Kpi['direction'] })}
      />
      <NumberInput
        label="Target"
        value={details.target ?? ''}
        onChange={(value) => set({ target: entered(value) })}
      />
      <NumberInput
        label="Floor"
        description="A value can never be below this"
        value={details.floor ?? ''}
        onChange={(value) => set({ floor: entered(value) })}
      />
      <NumberInput
        label="Ceiling"
        description="A value can never be above this"
        value={details.ceiling ?? ''}
        onChange={(value) => set({ ceiling: entered(value) })}
      />
    </SimpleGrid>
  )
}
