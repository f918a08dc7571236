import { Button, Group, NumberInput, Stack, Text } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useState } from 'react'
import type { Place } from '../../api/keys.ts'
import type { Chart } from '../../chart/model/types.ts'
import { useReach } from '../data/context.ts'

interface Props {
  place: Place
  /** A target that it was pulled to. */
  proposed?: number | undefined
  kpi: Chart['kpi']
  saving: boolean
  onSave: (target: number | null, high: number | null) => void
}

/** The target: a level that is wanted, which says nothing of what the process can do. */
export function TargetCard({ place, kpi, proposed, saving, onSave }: Props) {
  const [target, setTarget] = useState<number | string>(proposed ?? kpi.target ?? '')
  const [high, setHigh] = useState<number | string>(kpi.target_high ?? '')
  const crossed = high !== '' && target !== '' && Number(high) <= Number(target)
  const [asked] = useDebouncedValue(target, 250)
  const reach = useReach(place, asked === '' || high !== '' ? null : Number(asked))
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (crossed) return
        onSave(
          target === '' ? null : Number(target),
          target === '' || high === '' ? null : Number(high),
        )
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
          error={crossed ? 'Has to be above the target.' : null}
          onChange={setHigh}
        />
        {asked !== '' && high === '' && (
          <Text size="sm" role="status">
            {reach.data?.text ?? '\u00a0'}
          </Text>
        )}
        <Group>
          <Button type="submit" size="xs" loading={saving}>
            Save target
          </Button>
          {kpi.target !== null && (
            <Button size="xs" variant="default" onClick={() => onSave(null, null)}>
              Remove target
            </Button>
          )}
        </Group>
      </Stack>
    </form>
  )
}
