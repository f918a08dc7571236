import { Button, Select, Text } from '@mantine/core'
import { useState } from 'react'
import { timeZones } from '../../shared/timeZones.ts'
import { counted } from '../../shared/writing.ts'
import classes from '../Intake.module.css'
import type { Mapping, Reading } from './table.ts'

interface Props {
  reading: Reading
  mapping: Mapping
  /** Whether the values go into a KPI that has its own grain and calendar. */
  settled: boolean
  onChange: (mapping: Mapping) => void
}

/** Which table it is, and whose clock it shows. */
export function Understood({ reading, mapping, settled, onChange }: Props) {
  const inForce = reading.mapping
  /** What was chosen of columns holds no longer when these are others. */
  const afresh = (changes: Mapping) =>
    onChange({
      time_zone: mapping.time_zone,
      sheet: mapping.sheet,
      block: mapping.block ?? null,
      ...changes,
    })
  return (
    <div className={classes.understood}>
      {reading.sheets.length > 1 && (
        <Select
          label="Sheet"
          description={
            !mapping.sheet && reading.sheet !== reading.sheets[0]
              ? `The first one with a table; ${reading.sheets[0]} has none.`
              : null
          }
          size="xs"
          data={reading.sheets}
          allowDeselect={false}
          value={reading.sheet}
          onChange={(sheet) => afresh({ sheet, block: null })}
        />
      )}
      {reading.blocks.length > 1 && (
        <Select
          className={classes.across}
          label="Table on the sheet"
          description={`There are ${reading.blocks.length}; each is brought in by itself.`}
          size="xs"
          data={reading.blocks.map((label, n) => ({ value: String(n), label }))}
          allowDeselect={false}
          value={String(inForce.block ?? 0)}
          onChange={(value) => afresh({ block: Number(value) })}
        />
      )}
      {!settled && (
        <Select
          label="Time zone"
          size="xs"
          searchable
          data={timeZones()}
          allowDeselect={false}
          value={inForce.time_zone ?? 'UTC'}
          onChange={(value) => onChange({ ...mapping, time_zone: value ?? 'UTC' })}
        />
      )}
    </div>
  )
}

/** That rows of a goal are no part of the table's own, but the target of the others. */
export function Goal({ reading }: { reading: Reading }) {
  if (!reading.goal) return null
  return (
    <p className="quiet" role="status">
      “{reading.goal}” is the target of the others, not one of them.
    </p>
  )
}

/** That two columns look like a part and its whole: one ratio of them, in a click. */
export function ShareOffer({ reading, mapping, onChange }: Omit<Props, 'settled'>) {
  const { offer, columns } = reading
  const sides = columns.filter(({ role }) => role === 'numerator' || role === 'denominator')
  if (mapping.share && sides.length === 2) {
    const apart = () =>
      onChange({
        ...mapping,
        share: false,
        roles: {
          ...mapping.roles,
          ...Object.fromEntries(sides.map(({ name }) => [name, 'value' as const])),
        },
      })
    return (
      <p className="quiet" role="status">
        {sides.map(({ name }) => name).join(' and ')} make one ratio: sum by sum, never averaged.{' '}
        <button type="button" className={classes.link} onClick={apart}>
          Keep them apart
        </button>
      </p>
    )
  }
  if (!offer) return null
  const accept = () =>
    onChange({
      ...mapping,
      share: true,
      roles: { ...mapping.roles, ...offer.roles },
      kpis: { ...mapping.kpis, [offer.key]: offer.choice } as Mapping['kpis'],
    })
  return (
    <div className={classes.offer} role="status">
      <p>{offer.says}</p>
      <Button size="compact-sm" variant="light" onClick={accept}>
        Make one ratio of them
      </Button>
    </div>
  )
}

/** What of the file is left out or cannot be read, and which columns become nothing. */
export function Remarks({ reading }: { reading: Reading }) {
  return reading.remarks.map((remark) => (
    <p key={remark} className={`quiet ${classes.leftOut}`}>
      {remark}.
    </p>
  ))
}

/** What the table leaves open: each with its answers side by side. */
export function Questions({ reading, mapping, onChange }: Omit<Props, 'settled'>) {
  return reading.questions.map(({ key, asks, why, answers }) => (
    <Question
      key={key}
      asks={asks}
      why={why}
      answers={answers.map(({ reads }, n) => ({ value: String(n), reads }))}
      inForce={String(answers.findIndex(({ in_force }) => in_force))}
      onAnswer={(n) => onChange({ ...mapping, ...(answers[Number(n)]?.changes as Mapping) })}
    />
  ))
}

/** What a mark in the numbers is, where nothing in the table tells: both readings, side by side. */
export function AmbiguousNumbers({ reading, mapping, onChange }: Omit<Props, 'settled'>) {
  return (
    <Question
      asks="Thousands or a fraction?"
      why="The numbers can be read both ways."
      answers={reading.ambiguous_numbers.map(({ mark, reads }) => ({ value: mark, reads }))}
      inForce={reading.mapping.decimal_mark}
      onAnswer={(decimal_mark) => onChange({ ...mapping, decimal_mark })}
    />
  )
}

/** Day or month first, where the dates do not tell: both readings, side by side. */
export function Ambiguous({ reading, mapping, onChange }: Omit<Props, 'settled'>) {
  return (
    <Question
      asks="Day or month first?"
      why="The dates fit both ways."
      answers={reading.ambiguous_dates.map(({ style, reads }) => ({ value: style, reads }))}
      inForce={reading.mapping.date_style}
      onAnswer={(date_style) => onChange({ ...mapping, date_style })}
    />
  )
}

interface QuestionProps<T extends string> {
  asks: string
  why: string
  /** What each answer makes of a cell; none where nothing is open. */
  answers: { value: T; reads: string }[]
  inForce: T | null | undefined
  onAnswer: (value: T) => void
}

function Question<T extends string>(props: QuestionProps<T>) {
  const { asks, why, answers, inForce, onAnswer } = props
  if (answers.length === 0) return null
  return (
    <div className={`card ${classes.question}`} role="status">
      <b>{asks}</b> {why}{' '}
      {answers.map(({ value, reads }) => (
        <Button
          key={value}
          size="compact-xs"
          ml={6}
          variant={value === inForce ? 'filled' : 'default'}
          aria-pressed={value === inForce}
          onClick={() => onAnswer(value)}
        >
          {reads}
        </Button>
      ))}
    </div>
  )
}

/** What stands in the sheet and is no row of the table: titles above, totals and notes. */
export function LeftOut({ reading, mapping, onChange }: Omit<Props, 'settled'>) {
  const [open, setOpen] = useState(false)
  if (reading.left_out_count === 0) return null
  const taken = mapping.take_in ?? []
  return (
    <div className={classes.leftOut}>
      <Text size="sm">
        {counted(reading.left_out_count, 'row')} not taken for data: {summary(reading)}{' '}
        <button type="button" className={classes.link} onClick={() => setOpen(!open)}>
          {open ? 'Hide' : 'Show'}
        </button>
      </Text>
      {open && (
        <ul>
          {reading.left_out.map((row) => (
            <li key={row.line}>
              Row {row.line}, {row.why}: “{row.text}”{' '}
              <button
                type="button"
                className={classes.link}
                onClick={() => onChange({ ...mapping, take_in: [...taken, row.line] })}
              >
                Take it in
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}

function summary(reading: Reading): string {
  const counts = new Map<string, number>()
  for (const row of reading.left_out) counts.set(row.why, (counts.get(row.why) ?? 0) + 1)
  return [...counts]
    .map(([why, count]) => (why === 'header again' ? 'repeated header' : counted(count, why)))
    .join(', ')
}
