import { Group, NumberInput, SegmentedControl, Slider, Text } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useState } from 'react'
import type { Chart } from '../../chart/model/types.ts'
import { Notice } from '../../shared/Notice.tsx'
import { levelAmountText } from '../../shared/numbers.ts'
import type { KpiPath } from '../data/chart.ts'
import { useHowSoon } from '../data/context.ts'

interface Props {
  path: KpiPath
  kpi: Chart['kpi']
  /** The rules that would judge, kept or not yet. */
  rules: Chart['kpi']['rules']
  runLength: 7 | 8 | 9
  /** Sigma of the last segment; without limits there is nothing to judge a change by. */
  sigma: number | null
}

/** Changes that are asked of reach so far, in sigma either way. */
const REACH = 4

/** How soon a lasting change would show, and how large one has to be to show in time. */
export function HowSoon({ path, kpi, rules, runLength, sigma }: Props) {
  const [way, setWay] = useState<'change' | 'within'>('change')
  const [sigmas, setSigmas] = useState(-1.5)
  const [typed, setTyped] = useState<number | null>(null)
  const [within, setWithin] = useState(4)
  const change = typed ?? sigmas * (sigma ?? 0)
  const [asked] = useDebouncedValue(way === 'change' ? { change } : { within }, 200)
  const known = useHowSoon(path, rules, runLength, sigma ? asked : null)
  if (!sigma)
    return <Text size="sm">How soon a change would show is told once there are limits.</Text>
  const step = 10 ** (kpi.numbers.power - kpi.numbers.level_decimals)
  return (
    <section aria-label="How soon would I know?">
      <Group justify="space-between" gap="xs" mb={6}>
        <Text size="sm" fw={600}>
          How soon would I know?
        </Text>
        <SegmentedControl
          size="xs"
          aria-label="What is asked"
          value={way}
          data={[
            { value: 'change', label: 'of a change' },
            { value: 'within', label: 'within a time' },
          ]}
          onChange={(value) => setWay(value as typeof way)}
        />
      </Group>
      {way === 'change' ? (
        <Group gap="sm" wrap="nowrap" align="center">
          <Slider
            style={{ flex: 1 }}
            min={-REACH}
            max={REACH}
            step={0.05}
            thumbLabel="The average changes by"
            label={(value) => levelAmountText(value * sigma, kpi.numbers)}
            value={Math.max(-REACH, Math.min(REACH, change / sigma))}
            onChange={(value) => {
              setTyped(null)
              setSigmas(value)
            }}
          />
          <NumberInput
            size="xs"
            w={104}
            aria-label={`The average changes by${kpi.unit && `, ${kpi.unit}`}`}
            step={step}
            value={Number(change.toPrecision(3))}
            onChange={(value) => typeof value === 'number' && setTyped(value)}
          />
        </Group>
      ) : (
        <NumberInput
          size="xs"
          w={200}
          label={`Shown 8 in 10 times within, ${kpi.grain}s`}
          min={1}
          max={1000}
          allowDecimal={false}
          clampBehavior="strict"
          value={within}
          onChange={(value) => typeof value === 'number' && setWithin(value)}
        />
      )}
      {known.error ? (
        <Notice error={known.error} />
      ) : (
        <Text size="sm" mt={8} role="status" style={{ minHeight: '2.6em' }}>
          {known.data?.text ?? ''}
        </Text>
      )}
    </section>
  )
}
