import { Button, Group, SegmentedControl, Stack, Text, Textarea, TextInput } from '@mantine/core'
import { useState } from 'react'
import { useVocabulary } from '../../api/vocabulary.ts'
import type { Chart } from '../../chart/model/types.ts'
import { newDraft } from '../../improvements/improvements.ts'
import { MakeImprovement } from '../../improvements/MakeImprovement.tsx'
import { differences } from '../../shared/differences.ts'
import { shortPeriod } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'
import type { KpiPath, SegmentSettings } from '../data/chart.ts'
import { usePatterns } from '../data/context.ts'
import { Questions } from '../review/Questions.tsx'
import { segmentSettings } from '../session/drafts/settings.ts'
import { CardSelect } from './CardSelect.tsx'

interface Props {
  chart: Chart
  number: number
  /** Only shows how the numbers were made: they are of another grain, or of a part. */
  fixed?: boolean
  saving: boolean
  path: KpiPath
  onSave: (changes: Partial<SegmentSettings>) => void
  onRemove: () => void
  /** Begins to choose the baseline on the chart. */
  onBaseline: () => void
}

/** One segment: what it is called, what changed, how its numbers were made. */
export function SegmentCard(props: Props) {
  const { chart, number, fixed = false, saving, path, onSave, onRemove, onBaseline } = props
  const segment = chart.segments[number]
  // What it was when the card opened: only what is changed here is sent.
  const [opened] = useState(segmentSettings(chart)[number])
  const [settings, setSettings] = useState(opened)
  const last = number === chart.segments.length - 1
  const patterns = usePatterns(path, last && !fixed)
  const vocabulary = useVocabulary()
  if (!segment || !opened || !settings) return null
  const first = number === 0
  if (fixed) return <Text size="sm">{segment.how}</Text>
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        onSave(differences(opened, settings))
      }}
    >
      <Stack gap="sm">
        <Text size="sm">{segment.how}</Text>
        <TextInput
          data-autofocus
          label="Name"
          maxLength={80}
          value={settings.name ?? ''}
          placeholder={first ? 'Before' : 'New ramp drill'}
          onChange={(event) => setSettings({ ...settings, name: event.currentTarget.value })}
        />
        {!first && (
          <Textarea
            label="What changed"
            maxLength={500}
            autosize
            minRows={2}
            maxRows={5}
            value={settings.what_changed ?? ''}
            onChange={(event) =>
              setSettings({ ...settings, what_changed: event.currentTarget.value })
            }
          />
        )}
        {!first && (
          <details>
            <summary>The review of this shift</summary>
            <Questions
              review={settings.review ?? {}}
              onChange={(review) => setSettings({ ...settings, review })}
            />
            <Text size="sm" className={classes.advice}>
              {segment.advice}
            </Text>
          </details>
        )}
        <Choice
          label="Central line"
          value={settings.centre ?? 'mean'}
          data={[
            { value: 'mean', label: 'Average' },
            { value: 'median', label: 'Median' },
          ]}
          onChange={(centre) => setSettings({ ...settings, centre })}
        />
        <Choice
          label="Limits from the"
          value={settings.spread ?? 'mean_range'}
          data={[
            { value: 'mean_range', label: 'Average mR' },
            { value: 'median_range', label: 'Median mR' },
          ]}
          onChange={(spread) => setSettings({ ...settings, spread })}
        />
        <Basis
          grain={chart.kpi.grain}
          segment={segment}
          onSave={onSave}
          saving={saving}
          onBaseline={onBaseline}
        />
        <CardSelect
          size="xs"
          label="Limits follow"
          data={(vocabulary?.follows ?? [])
            .filter(({ grains }) => grains.includes(chart.kpi.grain))
            .map(({ id, name }) => ({ value: id, label: name }))}
          value={settings.follows ?? 'level'}
          onChange={(follows) =>
            follows &&
            setSettings({ ...settings, follows: follows as SegmentSettings['follows'] & string })
          }
        />
        {patterns.data
          ?.filter((pattern) => pattern.proposed || pattern.follows === settings.follows)
          .map((pattern) => (
            <Text key={pattern.follows} size="sm" className={classes.advice}>
              <b>
                {pattern.title}
                {pattern.proposed ? '' : ' does not stand out'}.
              </b>{' '}
              {pattern.text}
            </Text>
          ))}
        {segment.start !== null && (
          <div>
            <MakeImprovement
              workspace={path.workspace}
              draft={newDraft(
                segment.start.slice(0, 10),
                { slug: path.kpi, direction: chart.kpi.direction },
                { shift: segment.start, name: settings.name, text: settings.what_changed },
              )}
            />
          </div>
        )}
        <Group justify="space-between">
          <Button type="submit" size="xs" loading={saving}>
            Save segment
          </Button>
          {!first && (
            <Button size="xs" variant="default" onClick={onRemove}>
              Remove shift
            </Button>
          )}
        </Group>
      </Stack>
    </form>
  )
}

/** The values that limits come from: all of the segment's, or a baseline. */
function Basis({
  grain,
  segment,
  saving,
  onSave,
  onBaseline,
}: {
  grain: Chart['kpi']['grain']
  segment: Chart['segments'][number]
  saving: boolean
  onSave: Props['onSave']
  onBaseline: () => void
}) {
  const { basis } = segment
  return (
    <div>
      <Text size="sm" fw={500} mb={2}>
        Limits come from
      </Text>
      <Text size="sm" mb={4}>
        {segment.window
          ? segment.window.map((period) => shortPeriod(period, grain)).join(' to ')
          : 'all its values, and move with new ones'}
      </Text>
      {segment.firmer && (
        <Text size="sm" className={classes.advice} mb={4}>
          {segment.firmer}
        </Text>
      )}
      <Group gap={6}>
        <Button size="compact-xs" variant="default" onClick={onBaseline}>
          Choose a baseline
        </Button>
        {segment.window ? (
          <Button
            size="compact-xs"
            variant="default"
            disabled={saving}
            onClick={() => onSave({ window: null })}
          >
            Use all values
          </Button>
        ) : (
          basis && (
            <Button
              size="compact-xs"
              variant="default"
              disabled={saving}
              onClick={() => onSave({ window: [basis.first_period, basis.last_period] })}
            >
              Hold as they are
            </Button>
          )
        )}
      </Group>
    </div>
  )
}

function Choice<T extends string>({
  label,
  value,
  data,
  onChange,
}: {
  label: string
  value: T
  data: { value: T; label: string }[]
  onChange: (value: T) => void
}) {
  return (
    <div>
      <Text size="sm" fw={500} mb={2}>
        {label}
      </Text>
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label={label}
        value={value}
        data={data}
        onChange={(chosen) => onChange(chosen as T)}
      />
    </div>
  )
}
