import { Button, Checkbox, NumberInput, SimpleGrid, Text } from '@mantine/core'
import { entered } from '../../shared/entered.ts'
import { useChartSession } from '../session/ChartSession.tsx'
import { CardSelect } from './CardSelect.tsx'
import { SettingsForm } from './SettingsForm.tsx'
import { useSettings } from './useSettings.ts'

const FORMS = [
  { value: 'points', label: 'Line' },
  { value: 'columns', label: 'Columns from zero' },
  { value: 'steps', label: 'Steps: a value holds until it changes' },
]
const LABELED = [
  { value: 'signals', label: 'Signals' },
  { value: 'none', label: 'None' },
  { value: 'all', label: 'All that fit' },
  { value: 'off_target', label: 'Those outside the target' },
  { value: 'extremes', label: 'Highest and lowest' },
  { value: 'ends', label: 'First and last' },
]
const SHOWN_IN = [
  { value: 'automatic', label: 'By their size' },
  { value: 'ones', label: 'Ones' },
  { value: 'thousands', label: 'Thousands' },
  { value: 'millions', label: 'Millions' },
  { value: 'billions', label: 'Billions' },
  { value: 'trillions', label: 'Trillions' },
]

/** How values are drawn and written, where their axis ends, and what they can never be beyond. */
export function AxisCard() {
  const { base, drawn } = useChartSession()
  const { kpi } = base
  const { drawn_as, value_labels, dots, faint, axis_low, axis_high } = kpi
  const { decimals, shown_in, floor, ceiling } = kpi
  const draft = useSettings({
    ...{ drawn_as, value_labels, dots, faint, axis_low, axis_high },
    ...{ decimals, shown_in, floor, ceiling },
  })
  const { settings, set } = draft
  const { axis_low: low, axis_high: high } = settings
  const crossed = low !== null && high !== null && low >= high
  return (
    <SettingsForm label="How values are drawn" draft={draft} wrong={crossed}>
      <CardSelect
        data-autofocus
        label="Values are drawn as"
        data={FORMS}
        value={settings.drawn_as}
        onChange={(value) => set({ drawn_as: value as typeof drawn_as })}
      />
      <CardSelect
        label="Values that are labeled"
        data={LABELED}
        value={settings.value_labels}
        onChange={(value) => set({ value_labels: value as typeof value_labels })}
      />
      <SimpleGrid cols={2} spacing="xs">
        <NumberInput
          label="Axis from"
          placeholder="Automatic"
          value={low ?? ''}
          decimalScale={12}
          onChange={(value) => set({ axis_low: entered(value) })}
        />
        <NumberInput
          label="to"
          placeholder="Automatic"
          value={high ?? ''}
          decimalScale={12}
          error={crossed ? 'Has to be above where it begins.' : null}
          onChange={(value) => set({ axis_high: entered(value) })}
        />
        <NumberInput
          label="Never below"
          placeholder="No floor"
          value={settings.floor ?? ''}
          decimalScale={12}
          onChange={(value) => set({ floor: entered(value) })}
        />
        <NumberInput
          label="Never above"
          placeholder="No ceiling"
          value={settings.ceiling ?? ''}
          decimalScale={12}
          onChange={(value) => set({ ceiling: entered(value) })}
        />
        <NumberInput
          label="Decimals"
          min={0}
          max={12}
          allowDecimal={false}
          value={settings.decimals}
          onChange={(value) => set({ decimals: Number(value) || 0 })}
        />
        <CardSelect
          label="Numbers in"
          data={SHOWN_IN}
          value={settings.shown_in}
          onChange={(value) => set({ shown_in: value as typeof shown_in })}
        />
      </SimpleGrid>
      {drawn.axis.note && <Text size="sm">{drawn.axis.note}</Text>}
      <Checkbox
        size="xs"
        label="Routine points"
        checked={settings.dots}
        onChange={(event) => set({ dots: event.currentTarget.checked })}
      />
      <Checkbox
        size="xs"
        label="Let the values stand back behind the lines"
        checked={settings.faint}
        onChange={(event) => set({ faint: event.currentTarget.checked })}
      />
      {(low !== null || high !== null) && (
        <Button
          size="compact-xs"
          variant="subtle"
          style={{ alignSelf: 'flex-start' }}
          onClick={() => set({ axis_low: null, axis_high: null })}
        >
          Automatic axis
        </Button>
      )}
    </SettingsForm>
  )
}
