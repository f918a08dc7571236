import { ActionIcon, Button, Group, NumberInput, Stack, Text } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { IconX } from '@tabler/icons-react'
import { useState } from 'react'
import type { KpiPath } from '../../api/keys.ts'
import type { Chart } from '../../chart/model/types.ts'
import { DayInput } from '../../shared/day/DayInput.tsx'
import { entered } from '../../shared/entered.ts'
import { useReach } from '../data/context.ts'
import type { TargetDraft } from '../session/acts.ts'

interface Props {
  path: KpiPath
  /** A target that it was pulled to. */
  proposed?: number | undefined
  kpi: Chart['kpi']
  steps: Chart['target_steps']
  saving: boolean
  onSave: (target: TargetDraft) => void
}

interface Step {
  /** Tells rows apart while their days are typed. */
  row: number
  day: string
  level: number | string
  high: number | string
}

const crossed = (low: number | string, high: number | string) =>
  low !== '' && high !== '' && Number(high) <= Number(low)

/** The target: a level or a range that is wanted, which says nothing of what the process can do. */
export function TargetCard({ path, kpi, steps: kept, proposed, saving, onSave }: Props) {
  const [target, setTarget] = useState<number | string>(proposed ?? kpi.target ?? '')
  const [high, setHigh] = useState<number | string>(kpi.target_high ?? '')
  const [steps, setSteps] = useState<Step[]>(
    kept.map(({ day, level, high }, row) => ({ row, day, level, high: high ?? '' })),
  )
  const [asked] = useDebouncedValue(target, 250)
  const reach = useReach(path, asked === '' || high !== '' ? null : Number(asked))
  const set = (row: number, changes: Partial<Step>) =>
    setSteps(steps.map((step) => (step.row === row ? { ...step, ...changes } : step)))
  const twice = new Set(steps.map(({ day }) => day)).size < steps.length
  const wrong =
    crossed(target, high) ||
    twice ||
    steps.some(({ day, level, high }) => !day || level === '' || crossed(level, high))
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (wrong) return
        onSave({
          target: entered(target),
          target_high: target === '' ? null : entered(high),
          target_steps: steps.map(({ day, level, high }) => ({
            day,
            level: Number(level),
            high: entered(high),
          })),
        })
      }}
    >
      <Stack gap="sm">
        <Text size="sm">
          The target is what is wanted. It takes no part in the average or the limits.
        </Text>
        <NumberInput
          data-autofocus
          label={`Target${kpi.unit ? `, ${kpi.unit}` : ''}`}
          value={target}
          decimalScale={12}
          onChange={setTarget}
        />
        <NumberInput
          label="Up to, where it is a range"
          placeholder="None"
          value={high}
          decimalScale={12}
          error={crossed(target, high) ? 'Has to be above the target.' : null}
          onChange={setHigh}
        />
        {steps.map(({ row, day, level, high }) => (
          <Group key={row} gap={6} wrap="nowrap" align="flex-end">
            <DayInput
              size="xs"
              w={112}
              label="From"
              value={day}
              error={twice && steps.some((o) => o.row !== row && o.day === day) ? 'Twice' : null}
              onChange={(day) => set(row, { day })}
            />
            <NumberInput
              size="xs"
              label="it is"
              value={level}
              decimalScale={12}
              onChange={(level) => set(row, { level })}
            />
            <NumberInput
              size="xs"
              label="up to"
              value={high}
              decimalScale={12}
              error={crossed(level, high)}
              onChange={(high) => set(row, { high })}
            />
            <ActionIcon
              variant="subtle"
              aria-label="Leave this change out"
              onClick={() => setSteps(steps.filter((step) => step.row !== row))}
            >
              <IconX size={14} />
            </ActionIcon>
          </Group>
        ))}
        <Button
          size="compact-xs"
          variant="subtle"
          style={{ alignSelf: 'flex-start' }}
          onClick={() => {
            const row = Math.max(-1, ...steps.map((step) => step.row)) + 1
            setSteps([...steps, { row, day: '', level: '', high: '' }])
          }}
        >
          It changes on a day
        </Button>
        {asked !== '' && high === '' && steps.length === 0 && (
          <Text size="sm" role="status">
            {reach.data?.text ?? '\u00a0'}
          </Text>
        )}
        <Group>
          <Button type="submit" size="xs" loading={saving} disabled={wrong}>
            Save target
          </Button>
          {(kpi.target !== null || kept.length > 0) && (
            <Button
              size="xs"
              variant="default"
              onClick={() => onSave({ target: null, target_high: null, target_steps: [] })}
            >
              Remove target
            </Button>
          )}
        </Group>
      </Stack>
    </form>
  )
}
