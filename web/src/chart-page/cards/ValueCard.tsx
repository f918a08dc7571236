import { Button, NumberInput, Stack, Text } from '@mantine/core'
import { useState } from 'react'
import type { Chart } from '../../chart/model/types.ts'
import { periodInText } from '../../shared/writing.ts'

/** Another value for a point, in a trial. */
export function ValueCard({
  chart,
  position,
  onTry,
}: {
  chart: Chart
  position: number
  onTry: (value: number) => void
}) {
  const index = chart.points.position.indexOf(position)
  const [value, setValue] = useState<number | string>(chart.points.value[index] ?? '')
  const { kpi } = chart
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (value !== '') onTry(Number(value))
      }}
    >
      <Stack gap="xs">
        <Text size="sm">
          What if {periodInText(chart.points.period[index] ?? '', kpi.grain)} had another value?
        </Text>
        <NumberInput
          data-autofocus
          size="xs"
          label={`Value${kpi.unit ? `, ${kpi.unit}` : ''}`}
          value={value}
          onChange={setValue}
        />
        <Button size="xs" type="submit" disabled={value === ''}>
          Try this value
        </Button>
      </Stack>
    </form>
  )
}
