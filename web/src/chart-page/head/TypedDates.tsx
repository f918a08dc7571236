import { Button, Group } from '@mantine/core'
import { useState } from 'react'
import type { Chart } from '../../chart/model/types.ts'
import { DayInput } from '../../shared/day/DayInput.tsx'
import { fromDays, type Stretch } from '../session/drafts/stretch.ts'

/** Two days that are typed or picked. */
export function TypedDates({
  stretch,
  chart,
  newest,
  onChange,
}: {
  stretch: Stretch | null
  chart: Chart
  newest: string
  onChange: (stretch: Stretch) => void
}) {
  const { period } = chart.points
  const [first, setFirst] = useState(stretch?.first.slice(0, 10) ?? period[0]?.slice(0, 10) ?? '')
  const [last, setLast] = useState(stretch?.last.slice(0, 10) ?? newest)
  const reversed = first > last
  return (
    <Group gap={6} p={8} align="flex-end" wrap="nowrap" onKeyDown={(e) => e.stopPropagation()}>
      <DayInput size="xs" w={118} label="From" value={first} onChange={setFirst} />
      <DayInput
        size="xs"
        w={118}
        label="To"
        value={last}
        error={reversed ? 'Before it begins' : null}
        onChange={setLast}
      />
      <Button
        size="xs"
        variant="default"
        disabled={reversed || !first || !last}
        onClick={() => onChange(fromDays(first, last, chart.kpi.grain))}
      >
        Show
      </Button>
    </Group>
  )
}
