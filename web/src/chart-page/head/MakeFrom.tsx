import {
  Button,
  Modal,
  NumberInput,
  SegmentedControl,
  Select,
  Stack,
  Text,
  TextInput,
} from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useState } from 'react'
import type { Chart } from '../../chart/model/types.ts'
import { useKpis } from '../../shared/kpis.ts'
import { Notice } from '../../shared/Notice.tsx'
import { formatNumber, plainNumber } from '../../shared/numbers.ts'
import { counted } from '../../shared/writing.ts'
import type { KpiPath } from '../data/chart.ts'
import { useDerive } from '../data/derived.ts'
import { type MadeFrom, useDerivedPreview } from '../data/derivedPreview.ts'

interface Props {
  path: KpiPath
  chart: Chart
  onClose: () => void
}

type By = Exclude<MadeFrom['made_by'], 'time_between'>

const CALCULATIONS: { value: By; label: string }[] = [
  { value: 'ratio', label: 'Ratio' },
  { value: 'sum', label: 'Sum' },
  { value: 'difference', label: 'Difference' },
  { value: 'multiple', label: 'Multiple' },
]
const OTHER: Record<By, string> = {
  ratio: 'By which (the whole, or what it is counted by)',
  sum: 'And which',
  difference: 'Less which',
  multiple: '',
}

/** A KPI made from this one and another: how, and what it would be, before it is made. */
export function MakeFrom({ path, chart, onClose }: Props) {
  const kpis = useKpis(path.workspace)
  const derive = useDerive(path)
  const [by, setBy] = useState<By>('ratio')
  const [second, setSecond] = useState<string | null>(null)
  const [times, setTimes] = useState<number | null>(null)
  const [name, setName] = useState<string | null>(null)
  const ready = by === 'multiple' ? times !== null : second !== null
  const asked = {
    made_by: by,
    second: by === 'multiple' ? null : second,
    times: by === 'ratio' || by === 'multiple' ? times : null,
  }
  const [settled] = useDebouncedValue(asked, 250)
  const preview = useDerivedPreview(path, ready && settled.made_by === by ? settled : null)
  const made = ready && !preview.error ? preview.data : undefined
  const others = (kpis.data ?? []).filter(({ slug }) => slug !== path.kpi)
  return (
    <Modal
      opened
      onClose={onClose}
      title={`Make from ${chart.kpi.name}${by === 'multiple' ? '' : ' and another'}`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (made) derive.mutate({ ...asked, name: name ?? made.name }, { onSuccess: onClose })
        }}
      >
        <Stack gap="sm">
          <SegmentedControl
            fullWidth
            aria-label="How it is made"
            value={by}
            data={CALCULATIONS}
            onChange={(value) => {
              setBy(value as By)
              setTimes(null)
            }}
          />
          {by !== 'multiple' && (
            <Select
              label={OTHER[by]}
              searchable
              data-autofocus
              placeholder="Choose a KPI"
              nothingFoundMessage="No such KPI"
              data={others.map(({ slug, name: label }) => ({ value: slug, label }))}
              value={second}
              onChange={setSecond}
            />
          )}
          {(by === 'ratio' || by === 'multiple') && (
            <NumberInput
              label="Times"
              description={
                by === 'ratio' ? '100 for a percentage, 1,000 for a rate per thousand' : undefined
              }
              placeholder={by === 'ratio' ? 'as it fits' : 'a number'}
              value={times ?? ''}
              onChange={(value) => setTimes(typeof value === 'number' ? value : null)}
            />
          )}
          {ready && preview.error && <Notice error={preview.error} />}
          {made && (
            <>
              <TextInput
                label="Name"
                maxLength={120}
                value={name ?? made.name}
                onChange={(event) => setName(event.currentTarget.value)}
              />
              <Text size="sm" role="status">
                {counted(made.count, made.grain)}
                {made.parts.length > 0 && ` of ${counted(made.parts.length, 'part')}`}
                {made.newest !== null && `, the newest ${newest(made)}`}.
              </Text>
              {made.left_out.map((text) => (
                <Text key={text} size="sm" c="dimmed">
                  {text}
                </Text>
              ))}
            </>
          )}
          <Text size="sm" c="dimmed">
            It follows {by === 'multiple' ? 'this KPI' : 'both'} as data come. A ratio is never
            averaged: over longer periods and over parts it is sum by sum.
          </Text>
          <Button type="submit" loading={derive.isPending} disabled={!made}>
            Make it
          </Button>
        </Stack>
      </form>
    </Modal>
  )
}

function newest(made: NonNullable<ReturnType<typeof useDerivedPreview>['data']>): string {
  const value = `${formatNumber(made.newest ?? 0, made.unit === '%' ? 1 : 2)}${made.unit === '%' ? '%' : ''}`
  const [above, below] = made.newest_of ?? []
  if (above === undefined || below === undefined) return value
  return `${value} (${plainNumber(above)} of ${plainNumber(below)})`
}
