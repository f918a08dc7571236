import { Group, Select, Switch, Text } from '@mantine/core'
import { counted } from '../chart/format.ts'
import classes from './NewKpiPage.module.css'
import type { Choices, Reading } from './table.ts'

interface Props {
  reading: Reading
  choices: Choices
  onChange: (choices: Choices) => void
}

const KINDS = { date: 'dates', number: 'numbers', text: 'text' }

/** The first rows as they stand, which columns were taken for what, and how to take them otherwise. */
export function FoundTable({ reading, choices, onChange }: Props) {
  const made = reading.choices
  const columns = reading.columns.map((column, n) => ({
    value: String(n),
    label: `${column.name} (${KINDS[column.kind]})`,
  }))
  const roles = new Map([
    [made.period, 'period'],
    [made.value, 'value'],
  ])
  const set = (changes: Choices) => onChange({ ...choices, ...changes })
  const notes = [
    counted(reading.row_count, 'row'),
    `${reading.delimiter}-separated`,
    `${counted(reading.value_count, 'value')} by ${made.grain}`,
    ...(reading.missing ? [`${reading.missing} empty`] : []),
    ...(reading.sorted_here ? ['sorted by date'] : []),
  ]
  return (
    <>
      <Text size="sm" c="dimmed" mb={6} aria-live="polite">
        {notes.join(' · ')}
      </Text>
      {reading.ambiguous_dates && (
        <Text size="sm" mb={6} role="status">
          <b>Day or month first?</b> The dates fit both. They are read as in{' '}
          {example(reading, made.date_style)}; choose otherwise if that is wrong.
        </Text>
      )}
      <Group align="flex-end" mb="sm" gap="sm">
        <Select
          label="Period"
          size="xs"
          w={150}
          data={columns}
          allowDeselect={false}
          value={String(made.period)}
          onChange={(value) => set({ period: Number(value), date_style: null })}
        />
        <Select
          label="Value"
          size="xs"
          w={190}
          data={columns}
          allowDeselect={false}
          value={String(made.value)}
          onChange={(value) => set({ value: Number(value), decimal_mark: null })}
        />
        <Select
          label="Dates are written"
          size="xs"
          w={140}
          data={reading.date_styles.map((one) => ({ value: one.style, label: one.example }))}
          allowDeselect={false}
          value={made.date_style}
          onChange={(value) => set({ date_style: value as Choices['date_style'] })}
        />
        <Select
          label="Decimal mark"
          size="xs"
          w={130}
          data={[
            { value: 'point', label: 'Point, 1.5' },
            { value: 'comma', label: 'Comma, 1,5' },
          ]}
          allowDeselect={false}
          value={made.decimal_mark}
          onChange={(value) => set({ decimal_mark: value as Choices['decimal_mark'] })}
        />
        <Select
          label="One value a"
          size="xs"
          w={110}
          data={['hour', 'day', 'week', 'month', 'quarter', 'year']}
          allowDeselect={false}
          value={made.grain}
          onChange={(value) => set({ grain: value as Choices['grain'] })}
        />
        <Select
          label="Time zone"
          size="xs"
          w={170}
          searchable
          data={Intl.supportedValuesOf('timeZone')}
          allowDeselect={false}
          value={made.time_zone}
          onChange={(value) => set({ time_zone: value ?? 'UTC' })}
        />
        <Switch
          label="First row names the columns"
          size="xs"
          checked={made.header ?? true}
          onChange={(event) => set({ header: event.currentTarget.checked })}
          mb={6}
        />
      </Group>
      <section
        className={`card ${classes.tableFrame}`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard
        tabIndex={0}
        aria-label="First rows of the table"
      >
        <table className={classes.found}>
          <thead>
            <tr>
              <th scope="col" className={classes.line}>
                row
              </th>
              {reading.columns.map((column, n) => (
                <th key={column.name} scope="col" data-role={roles.get(n)} title={column.name}>
                  <div className={classes.role}>{roles.get(n) ?? '\u00a0'}</div>
                  {column.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {reading.first_rows.slice(0, 5).map((row) => (
              <tr key={row.line}>
                <th scope="row" className={classes.line}>
                  {row.line}
                </th>
                {reading.columns.map((column, n) => (
                  <td key={column.name} data-role={roles.get(n)}>
                    {row.cells[n]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </>
  )
}

function example(reading: Reading, style: Choices['date_style']): string {
  return reading.date_styles.find((one) => one.style === style)?.example ?? ''
}
