import { Select } from '@mantine/core'
import type { KpiPath } from '../chart-page/data/chart.ts'
import { Pills } from '../shared/Pills.tsx'
import { type Only, useValues, type Wanted } from './values.ts'

type Shown = Only | 'all'

interface Props {
  path: KpiPath
  wanted: Wanted
  target: boolean
  /** Whether periods without a value can be told: not among the parts of a whole. */
  gaps: boolean
  onWant: (changes: Partial<Pick<Wanted, 'only' | 'by'>>) => void
}

/** Which values are shown: those that the chart marks, that missed the target, that somebody wrote. */
export function LookFor({ path, wanted, target, gaps, onWant }: Props) {
  const { count, pending, writers } = useValues(path, wanted, 0, 0)
  const now: Shown = wanted.only ?? 'all'
  const options: { value: Shown; label: string }[] = [
    { value: 'all', label: 'All' },
    { value: 'marked', label: 'Marked by the chart' },
    ...(target ? [{ value: 'off_target' as const, label: 'Target missed' }] : []),
    { value: 'aside', label: 'Set aside' },
    { value: 'noted', label: 'With a note' },
    ...(gaps ? [{ value: 'missing' as const, label: 'Missing' }] : []),
  ]
  return (
    <>
      <Pills
        legend="Which values"
        options={options.map((option) => ({
          ...option,
          count: option.value === now && !pending ? count : undefined,
        }))}
        pressed={(value) => value === now}
        onPress={(value) => onWant({ only: value === 'all' ? null : value })}
      />
      {(writers.length > 1 || wanted.by) && (
        <Select
          size="xs"
          w={170}
          aria-label="Written by"
          placeholder="Written by anybody"
          data={writers.map(({ username, name }) => ({ value: username, label: name }))}
          clearable
          value={wanted.by}
          onChange={(by) => onWant({ by })}
        />
      )}
    </>
  )
}
