import {
  Button,
  Checkbox,
  Divider,
  Group,
  NumberInput,
  Select,
  SimpleGrid,
  Stack,
  Text,
  TextInput,
} from '@mantine/core'
import { useState } from 'react'
import { useAggregations, useVocabulary } from '../../api/vocabulary.ts'
import type { Chart } from '../../chart/model/types.ts'
import { MONTH_NAMES, WEEKDAYS } from '../../shared/calendarNames.ts'
import { differences } from '../../shared/differences.ts'
import { DIRECTIONS } from '../../shared/directions.ts'
import { Notice } from '../../shared/Notice.tsx'
import { timeZones } from '../../shared/timeZones.ts'
import { HowSoon } from '../cards/HowSoon.tsx'
import type { Place, Settings } from '../data/chart.ts'
import { useFalseAlarms } from '../data/context.ts'

type Kpi = Chart['kpi']
type Rule = Kpi['rules'][number]

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
const RAISES = [
  { value: 'everything', label: 'Every signal' },
  { value: 'beyond_limits', label: 'Values beyond the limits only' },
  { value: 'nothing', label: 'Nothing' },
]

interface Props {
  place: Place
  kpi: Kpi
  /** Sigma of the last segment. */
  sigma: number | null
  saving: boolean
  error: Error | null
  onSave: (changes: Settings) => void
  onDelete: (name: string) => void
  mayDelete: boolean
  deleting: boolean
  deleteError: Error | null
}

/** What a KPI is called, how its values are read, which rules judge it. Long as one form: its fields in turn. */
export function KpiDetails(props: Props) {
  const aggregations = useAggregations()
  const { place, kpi, sigma, saving, error, onSave, onDelete, mayDelete, deleting, deleteError } =
    props
  const [opened] = useState({
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
  })
  const [details, setDetails] = useState(opened)
  const cost = useFalseAlarms(place, details.rules, details.run_length)
  const vocabulary = useVocabulary()
  const [typed, setTyped] = useState('')
  const set = (changes: Partial<typeof details>) => setDetails({ ...details, ...changes })
  const number = (value: string | number) => (value === '' ? null : Number(value))

  return (
    <Stack>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          onSave(differences(opened, details))
        }}
      >
        <Stack>
          {error && <Notice error={error} />}
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
              onChange={(value) => set({ target: number(value) })}
            />
            <NumberInput
              label="Floor"
              description="A value can never be below this"
              value={details.floor ?? ''}
              onChange={(value) => set({ floor: number(value) })}
            />
            <NumberInput
              label="Ceiling"
              description="A value can never be above this"
              value={details.ceiling ?? ''}
              onChange={(value) => set({ ceiling: number(value) })}
            />
          </SimpleGrid>
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
          <Checkbox.Group
            label="Rules that flag signals"
            description={cost.data?.text ?? 'More rules find more, and cry wolf more.'}
            value={details.rules}
            onChange={(rules) => set({ rules: rules as Rule[] })}
          >
            <SimpleGrid cols={{ base: 1, xs: 2 }} mt="xs" spacing="xs">
              {vocabulary?.rules.map(({ id, name, true_when }) => (
                <Checkbox key={id} value={id} label={name} title={true_when} size="xs" />
              ))}
            </SimpleGrid>
          </Checkbox.Group>
          <HowSoon
            {...{ place, kpi, sigma }}
            rules={details.rules}
            runLength={details.run_length}
          />
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
          <Group>
            <Button type="submit" loading={saving}>
              Save details
            </Button>
          </Group>
        </Stack>
      </form>
      {mayDelete && (
        <>
          <Divider />
          <form
            onSubmit={(event) => {
              event.preventDefault()
              onDelete(typed)
            }}
          >
            <Stack gap="xs">
              <Text size="sm">
                Deleting removes the KPI with all its values, segments and history. It cannot be
                undone.
              </Text>
              {deleteError && <Notice error={deleteError} />}
              <Group align="flex-end">
                <TextInput
                  label={`Type ${kpi.name} to delete it`}
                  value={typed}
                  onChange={(event) => setTyped(event.currentTarget.value)}
                />
                <Button
                  type="submit"
                  color="signal"
                  variant="outline"
                  loading={deleting}
                  disabled={typed !== kpi.name}
                >
                  Delete KPI
                </Button>
              </Group>
            </Stack>
          </form>
        </>
      )}
    </Stack>
  )
}
