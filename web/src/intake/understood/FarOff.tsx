import { Button, Group, NumberInput, Text } from '@mantine/core'
import { useState } from 'react'
import type { Chart } from '../../chart/model/types.ts'
import { entered } from '../../shared/entered.ts'
import classes from '../Intake.module.css'
import type { KpiChoice } from './table.ts'

interface Props {
  values: Chart['far_off']
  choice: KpiChoice
  /** Whether a value can be told anew: it is that of one row, not of several parts. */
  mendable: boolean
  onChange: (choice: KpiChoice) => void
}

/** Asks about values far off the others before anything is saved: mend, set aside, or right. */
export function FarOff({ values, choice, mendable, onChange }: Props) {
  const said = [
    ...Object.keys(choice.mended ?? {}),
    ...(choice.aside ?? []),
    ...(choice.right ?? []),
  ]
  return (
    <>
      {values.map((value) => (
        <Question key={value.period} {...{ value, choice, mendable, onChange }} />
      ))}
      {said.length > 0 && (
        <Text size="sm" c="dimmed" role="status">
          {said.length === 1 ? 'One value' : `${said.length} values`} far off answered.{' '}
          <button
            type="button"
            className={classes.link}
            onClick={() => onChange({ ...choice, mended: {}, aside: [], right: [] })}
          >
            Ask again
          </button>
        </Text>
      )}
    </>
  )
}

function Question({
  value: { period, label, value },
  choice,
  mendable,
  onChange,
}: Omit<Props, 'values'> & { value: Chart['far_off'][number] }) {
  const [typed, setTyped] = useState<number | null>(null)
  return (
    <div className={classes.question} role="status">
      <b>
        Is {value} of {label} right?
      </b>{' '}
      It is far off the others, and moves the average and the limits.
      <Group gap="xs" mt={6}>
        {mendable && (
          <>
            <NumberInput
              size="xs"
              w={130}
              aria-label={`The right value of ${label}`}
              placeholder="The right value"
              value={typed ?? ''}
              onChange={(next) => setTyped(entered(next))}
            />
            <Button
              size="xs"
              variant="default"
              disabled={typed === null}
              onClick={() =>
                typed !== null &&
                onChange({ ...choice, mended: { ...choice.mended, [period]: typed } })
              }
            >
              Mend it
            </Button>
          </>
        )}
        <Button
          size="xs"
          variant="default"
          onClick={() => onChange({ ...choice, aside: [...(choice.aside ?? []), period] })}
        >
          Set it aside
        </Button>
        <Button
          size="xs"
          variant="default"
          onClick={() => onChange({ ...choice, right: [...(choice.right ?? []), period] })}
        >
          It is right
        </Button>
      </Group>
    </div>
  )
}
