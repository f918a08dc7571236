import { Button, Group, NumberInput, Stack, Text } from '@mantine/core'
import { useState } from 'react'
import type { Chart } from '../../chart/model/types.ts'

interface Props {
  kpi: Chart['kpi']
  saving: boolean
  onSave: (target: number | null) => void
}

/** The target: a level that is wanted, which says nothing of what the process can do. */
export function TargetCard({ kpi, saving, onSave }: Props) {
  const [target, setTarget] = useState<number | string>(kpi.target ?? '')
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        onSave(target === '' ? null : Number(target))
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
          decimalScale={6}
          onChange={setTarget}
        />
        <Group>
          <Button type="submit" size="xs" loading={saving}>
            Save target
          </Button>
          {kpi.target !== null && (
            <Button size="xs" variant="default" onClick={() => onSave(null)}>
              Remove target
            </Button>
          )}
        </Group>
      </Stack>
    </form>
  )
}
