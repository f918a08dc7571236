import {
  Button,
  Checkbox,
  Group,
  NumberInput,
  Select,
  SimpleGrid,
  Stack,
  Text,
} from '@mantine/core'
import { useState } from 'react'
import type { Chart } from '../../chart/model/types.ts'
import { entered } from '../../shared/entered.ts'
import type { Settings } from '../data/chart.ts'

type Kpi = Chart['kpi']

const FORMS: { value: Kpi['drawn_as']; label: string }[] = [
  { value: 'points', label: 'Line' },
  { value: 'columns', label: 'Columns from zero' },
  { value: 'steps', label: 'Steps: a value holds until it changes' },
]
const LABELED: { value: Kpi['value_labels']; label: string }[] = [
  { value: 'signals', label: 'Signals' },
  { value: 'none', label: 'None' },
  { value: 'all', label: 'All that fit' },
  { value: 'off_target', label: 'Those outside the target' },
  { value: 'extremes', label: 'Highest and lowest' },
  { value: 'ends', label: 'First and last' },
]

/** How values are drawn, and where their axis ends. */
export function AxisCard({
  chart,
  saving,
  onSave,
}: {
  chart: Chart
  saving: boolean
  onSave: (changes: Settings) => void
}) {
  const { kpi } = chart
  const [form, setForm] = useState(kpi.drawn_as)
  const [labeled, setLabeled] = useState(kpi.value_labels)
  const [dots, setDots] = useState(kpi.dots)
  const [faint, setFaint] = useState(kpi.faint)
  const [low, setLow] = useState<number | string>(kpi.axis_low ?? '')
  const [high, setHigh] = useState<number | string>(kpi.axis_high ?? '')
  const crossed = low !== '' && high !== '' && Number(low) >= Number(high)
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (crossed) return
        onSave({
          drawn_as: form,
          value_labels: labeled,
          dots,
          faint,
          axis_low: entered(low),
          axis_high: entered(high),
        })
      }}
    >
      <Stack gap="xs">
        <Select
          data-autofocus
          label="Values are drawn as"
          data={FORMS}
          value={form}
          allowDeselect={false}
          comboboxProps={{ withinPortal: false }}
          onChange={(value) => setForm(value as Kpi['drawn_as'])}
        />
        <Select
          label="Values that are labeled"
          data={LABELED}
          value={labeled}
          allowDeselect={false}
          comboboxProps={{ withinPortal: false }}
          onChange={(value) => setLabeled(value as Kpi['value_labels'])}
        />
        <SimpleGrid cols={2} spacing="xs">
          <NumberInput
            label="Axis from"
            placeholder="Automatic"
            value={low}
            decimalScale={12}
            onChange={setLow}
          />
          <NumberInput
            label="to"
            placeholder="Automatic"
            value={high}
            decimalScale={12}
            error={crossed ? 'Has to be above where it begins.' : null}
            onChange={setHigh}
          />
        </SimpleGrid>
        {chart.axis.note && <Text size="sm">{chart.axis.note}</Text>}
        <Checkbox
          size="xs"
          label="Routine points"
          checked={dots}
          onChange={(event) => setDots(event.currentTarget.checked)}
        />
        <Checkbox
          size="xs"
          label="Let the values stand back behind the lines"
          checked={faint}
          onChange={(event) => setFaint(event.currentTarget.checked)}
        />
        <Group gap="xs">
          <Button type="submit" size="xs" loading={saving} disabled={crossed}>
            Save
          </Button>
          {(low !== '' || high !== '') && (
            <Button
              size="xs"
              variant="default"
              onClick={() => {
                setLow('')
                setHigh('')
              }}
            >
              Automatic axis
            </Button>
          )}
        </Group>
      </Stack>
    </form>
  )
}
