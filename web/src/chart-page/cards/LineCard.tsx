import {
  ActionIcon,
  Alert,
  Button,
  Checkbox,
  Group,
  NumberInput,
  SimpleGrid,
  Slider,
  Stack,
  Text,
  TextInput,
} from '@mantine/core'
import { IconArrowDown, IconArrowUp } from '@tabler/icons-react'
import { useState } from 'react'
import { lineName } from '../../chart/model/overlays.ts'
import type { Chart, Line } from '../../chart/model/types.ts'
import { entered } from '../../shared/entered.ts'
import { COLORS, type LineDraft } from '../session/drafts/line.ts'
import { CardSelect } from './CardSelect.tsx'

interface Props {
  chart: Chart
  draft: LineDraft
  /** The line as the preview has it; null until that has come. */
  preview: Line | null
  added: boolean
  saving: boolean
  onChange: (draft: LineDraft) => void
  onSave: () => void
  onRemove: () => void
  /** Hides it, or shows it again, and keeps what was changed. */
  onHide: () => void
  onMove: (by: -1 | 1) => void
}

const SOURCES: { group: string; items: { value: LineDraft['made']; label: string }[] }[] = [
  {
    group: 'A level of what is shown',
    items: [
      { value: 'mean', label: 'Mean' },
      { value: 'median', label: 'Median' },
      { value: 'percentile', label: 'Percentile' },
      { value: 'minimum', label: 'Minimum' },
      { value: 'maximum', label: 'Maximum' },
      { value: 'percent_of_maximum', label: 'Percent of the maximum' },
      { value: 'sum', label: 'Sum' },
    ],
  },
  { group: 'A level of your own', items: [{ value: 'constant', label: 'Constant' }] },
  {
    group: 'Over time',
    items: [
      { value: 'moving_average', label: 'Moving average' },
      { value: 'rolling_band', label: 'Moving average and spread' },
      { value: 'coarser_mean', label: 'Mean of each longer period' },
      { value: 'trend', label: 'Trend line' },
      { value: 'year_before', label: 'Same periods a year before' },
      { value: 'segment_before', label: 'The segment before' },
    ],
  },
]
const NUMBERS: Partial<Record<LineDraft['made'], string>> = {
  constant: 'Level',
  percentile: 'Percentile, 0 to 100',
  percent_of_maximum: 'Percent',
}
const LENGTHS: LineDraft['per'][] = ['period', 'hour', 'day', 'week', 'month', 'quarter', 'year']
const choice = <T extends string>(values: readonly T[]) =>
  values.map((value) => ({ value, label: value.charAt(0).toUpperCase() + value.slice(1) }))

/** A line of one's own: what it is made from, and how it is drawn. The chart follows each change. */
export function LineCard(props: Props) {
  const { chart, draft, preview, added, saving, onChange, onSave, onRemove, onHide, onMove } = props
  const set = (changes: Partial<LineDraft>) => onChange({ ...draft, ...changes })
  const level = draft.made in LEVELS
  const asked = NUMBERS[draft.made]
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        onSave()
      }}
    >
      <Stack gap="xs">
        <CardSelect
          data-autofocus
          label="Made from"
          data={SOURCES}
          value={draft.made}
          maxDropdownHeight={260}
          onChange={(made) =>
            // What a new line begins with, so many times, is that of another kind no more.
            set({
              made: made as LineDraft['made'],
              ...(added && { factor: 1 }),
              ...STARTS[made as 'trend'],
            })
          }
        />
        {asked && (
          <NumberInput
            label={
              asked + (draft.made === 'constant' && chart.kpi.unit ? `, ${chart.kpi.unit}` : '')
            }
            value={draft.number}
            decimalScale={12}
            onChange={(number) => number !== '' && set({ number: Number(number) })}
          />
        )}
        {level && (
          <SimpleGrid cols={2} spacing="xs">
            <NumberInput
              label="Times"
              value={draft.factor}
              decimalScale={6}
              step={0.05}
              onChange={(factor) => factor !== '' && set({ factor: Number(factor) })}
            />
            <NumberInput
              label="Plus"
              value={draft.amount}
              decimalScale={12}
              onChange={(amount) => amount !== '' && set({ amount: Number(amount) })}
            />
          </SimpleGrid>
        )}
        {(draft.made === 'moving_average' || draft.made === 'rolling_band') && (
          <Length draft={draft} chart={chart} set={set} />
        )}
        {draft.made === 'rolling_band' && (
          <NumberInput
            label="Standard deviations to each side"
            value={draft.deviations}
            min={0.1}
            max={10}
            step={0.5}
            onChange={(deviations) => deviations !== '' && set({ deviations: Number(deviations) })}
          />
        )}
        {draft.made === 'coarser_mean' && (
          <CardSelect
            label="Of each"
            data={choice(chart.kpi.grains.filter((grain) => grain !== chart.kpi.grain))}
            value={draft.per}
            onChange={(per) => set({ per: per as LineDraft['per'] })}
          />
        )}
        <ComesTo line={preview} onInstead={(number) => set({ number })} />
        <TextInput
          label="Name"
          placeholder={preview ? lineName({ name: '', says: preview.says }) : ''}
          value={draft.name}
          maxLength={80}
          onChange={(event) => set({ name: event.currentTarget.value })}
        />
        <Looks draft={draft} set={set} />
        <Group gap="xs">
          <Button type="submit" size="xs" loading={saving}>
            {added ? 'Add line' : 'Save line'}
          </Button>
          {!added && (
            <>
              <Button size="xs" variant="default" onClick={onHide}>
                {draft.hidden ? 'Show' : 'Hide'}
              </Button>
              <Button size="xs" variant="default" onClick={onRemove}>
                Remove
              </Button>
              <ActionIcon variant="default" aria-label="Draw it earlier" onClick={() => onMove(-1)}>
                <IconArrowUp size={16} />
              </ActionIcon>
              <ActionIcon variant="default" aria-label="Draw it later" onClick={() => onMove(1)}>
                <IconArrowDown size={16} />
              </ActionIcon>
            </>
          )}
        </Group>
      </Stack>
    </form>
  )
}

const LEVELS: Partial<Record<LineDraft['made'], true>> = {
  constant: true,
  mean: true,
  median: true,
  percentile: true,
  minimum: true,
  maximum: true,
  sum: true,
  percent_of_maximum: true,
}

/** What a line of its kind begins with. */
const STARTS: Partial<Record<LineDraft['made'], Partial<LineDraft>>> = {
  percentile: { number: 90 },
  percent_of_maximum: { number: 80 },
  moving_average: { dash: 'solid', weight: 'medium', per: 'period' },
  rolling_band: { dash: 'solid', per: 'period' },
  coarser_mean: { dash: 'solid', per: 'month' },
  year_before: { dash: 'solid', color: 'slate', weight: 'faint' },
  segment_before: { dash: 'solid', color: 'slate', weight: 'faint' },
}

/** How much an average over time takes: by periods, or by a length of time. */
function Length({
  draft,
  chart,
  set,
}: {
  draft: LineDraft
  chart: Chart
  set: (changes: Partial<LineDraft>) => void
}) {
  return (
    <>
      <SimpleGrid cols={2} spacing="xs">
        <NumberInput
          label="Of the last"
          value={draft.length}
          min={1}
          max={10_000}
          allowDecimal={false}
          onChange={(length) =>
            length !== '' && Number(length) >= 1 && set({ length: Number(length) })
          }
        />
        <CardSelect
          label="Counted in"
          data={LENGTHS.map((per) => ({
            value: per,
            label: per === 'period' ? `${chart.kpi.grain}s with a value` : `${per}s of time`,
          }))}
          value={draft.per}
          onChange={(per) => set({ per: per as LineDraft['per'] })}
        />
      </SimpleGrid>
      <Slider
        thumbLabel="Of the last"
        min={2}
        max={Math.max(12, Math.min(60, Math.floor(chart.count / 2)))}
        value={draft.length}
        onChange={(length) => set({ length })}
        label={null}
      />
    </>
  )
}

/** What the line is made from and comes to, and what is to be doubted of it. */
function ComesTo({ line, onInstead }: { line: Line | null; onInstead: (number: number) => void }) {
  if (!line) return <Text size="sm">{'\u00a0'}</Text>
  const { says, over, level, amount_text, note, instead } = line
  return (
    <>
      <Text size="sm" role="status">
        {`${lineName({ name: '', says })}${over && ` ${over}`}`}
        {level !== null && <b>{`: ${amount_text}`}</b>}
      </Text>
      {note && (
        <Alert p="xs" color="gray" variant="light">
          <Text size="sm">{note}</Text>
          {instead !== null && (
            <Button size="compact-xs" variant="light" mt={4} onClick={() => onInstead(instead)}>
              Yes, take that
            </Button>
          )}
        </Alert>
      )}
    </>
  )
}

/** How a line is drawn. */
function Looks({ draft, set }: { draft: LineDraft; set: (changes: Partial<LineDraft>) => void }) {
  const select = <K extends 'color' | 'dash' | 'weight' | 'shows' | 'marks'>(
    name: K,
    label: string,
    values: readonly LineDraft[K][],
  ) => (
    <CardSelect
      size="xs"
      label={label}
      data={choice(values)}
      value={draft[name]}
      onChange={(value) => set({ [name]: value } as Partial<LineDraft>)}
    />
  )
  const [opened, setOpened] = useState(false)
  if (!opened)
    return (
      <Button
        size="compact-xs"
        variant="subtle"
        style={{ alignSelf: 'flex-start' }}
        onClick={() => setOpened(true)}
      >
        How it is drawn
      </Button>
    )
  return (
    <>
      <SimpleGrid cols={2} spacing="xs">
        {select('color', 'Color', COLORS)}
        {select('dash', 'Dash', ['solid', 'dashed', 'dotted', 'long'])}
        {select('weight', 'Weight', ['faint', 'thin', 'medium', 'strong'])}
        {select('shows', 'Its tag shows', ['both', 'name', 'value', 'none'])}
        {select('marks', 'Mark values', ['none', 'above', 'below'])}
        <NumberInput
          size="xs"
          label="Decimals"
          placeholder="As the values"
          min={0}
          max={12}
          value={draft.decimals ?? ''}
          onChange={(value) => set({ decimals: entered(value) })}
        />
      </SimpleGrid>
      <Checkbox
        size="xs"
        label="In front of the values"
        checked={draft.in_front}
        onChange={(event) => set({ in_front: event.currentTarget.checked })}
      />
      <Checkbox
        size="xs"
        label="Shade between the values and it; split columns at it"
        checked={draft.shaded}
        onChange={(event) => set({ shaded: event.currentTarget.checked })}
      />
    </>
  )
}
