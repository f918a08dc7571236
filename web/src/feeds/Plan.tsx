import { Group, NumberInput, Select, Text, TextInput } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { timeZones } from '../shared/timeZones.ts'
import { type Schedule, useWhen } from './feeds.ts'

const EVERY: { value: Schedule['every']; label: string }[] = [
  { value: 'hour', label: 'Every hour' },
  { value: 'day', label: 'Every day' },
  { value: 'weekday', label: 'On weekdays' },
  { value: 'week', label: 'Every week' },
  { value: 'month', label: 'Every month' },
  { value: 'arrival', label: 'When values usually come' },
  { value: 'cron', label: 'By a cron line' },
]
const WEEKDAYS = 'Monday Tuesday Wednesday Thursday Friday Saturday Sunday'.split(' ')

interface Props {
  workspace: string
  schedule: Schedule
  zone: string
  onChange: (schedule: Schedule, zone: string) => void
  /** How often it may be; left out: all there is. */
  only?: Schedule['every'][]
}

/** When something is done by itself, said in words with its next three times. */
export function Plan({ workspace, schedule, zone, onChange, only }: Props) {
  const { every, minute } = schedule
  const set = (change: Partial<Schedule>) => onChange({ ...schedule, ...change }, zone)
  const atTime = every !== 'hour' && every !== 'cron' && every !== 'arrival'
  return (
    <div>
      <Group gap="xs" align="flex-end">
        <Select
          label="How often"
          data={EVERY.filter(({ value }) => !only || only.includes(value))}
          value={every}
          allowDeselect={false}
          onChange={(value) => value && set({ every: value as Schedule['every'], minute: 0 })}
          w={210}
        />
        {every === 'week' && (
          <Select
            label="On"
            data={WEEKDAYS.map((label, n) => ({ value: String(n), label }))}
            value={String(schedule.weekday)}
            allowDeselect={false}
            onChange={(value) => set({ weekday: Number(value) })}
            w={130}
          />
        )}
        {every === 'month' && (
          <NumberInput
            label="On day"
            description={schedule.day === 31 ? 'The last one' : undefined}
            min={1}
            max={31}
            value={schedule.day}
            onChange={(value) => set({ day: Math.min(31, Math.max(1, Number(value) || 1)) })}
            w={100}
          />
        )}
        {atTime && (
          <TextInput
            label="At"
            type="time"
            value={clock(minute)}
            onChange={({ currentTarget }) => set({ minute: minutes(currentTarget.value) })}
            w={110}
          />
        )}
        {every === 'hour' && (
          <NumberInput
            label="Minutes past"
            min={0}
            max={59}
            value={minute}
            onChange={(value) => set({ minute: Math.min(59, Math.max(0, Number(value) || 0)) })}
            w={120}
          />
        )}
        {every === 'cron' && (
          <TextInput
            label="Cron line"
            placeholder="10 6 * * 1-5"
            value={schedule.cron}
            onChange={({ currentTarget }) => set({ cron: currentTarget.value })}
            w={160}
          />
        )}
        <Select
          label="By the clock of"
          searchable
          data={timeZones()}
          value={zone}
          allowDeselect={false}
          onChange={(value) => value && onChange(schedule, value)}
          w={200}
        />
      </Group>
      <Said {...{ workspace, schedule, zone }} />
    </div>
  )
}

function Said({ workspace, schedule, zone }: Pick<Props, 'workspace' | 'schedule' | 'zone'>) {
  const [settled] = useDebouncedValue({ schedule, zone }, 250)
  const empty = settled.schedule.every === 'cron' && !settled.schedule.cron.trim()
  const when = useWhen(workspace, settled.schedule, settled.zone)
  if (empty || (!when.data && !when.error)) return <Text size="sm" mt={6} mih={21} />
  if (when.error) {
    return (
      <Text size="sm" mt={6} c="var(--signal)" role="alert">
        {'issues' in when.error ? (when.error as { summary?: string }).summary : when.error.message}
      </Text>
    )
  }
  return (
    <Text size="sm" mt={6} c="dimmed" role="status">
      {when.data?.says}.
      {when.data && when.data.next_times.length > 0 && (
        <> Next: {when.data.next_times.map((at) => momentIn(at, settled.zone)).join(', ')}.</>
      )}
    </Text>
  )
}

/** `Mon 30 Nov, 06:10` by the clock of a zone. */
export function momentIn(at: string, zone: string): string {
  return new Date(at)
    .toLocaleString('en-GB', {
      weekday: 'short',
      day: 'numeric',
      month: 'short',
      hour: '2-digit',
      minute: '2-digit',
      timeZone: zone,
    })
    .replace(' at ', ', ')
}

function clock(minute: number): string {
  return `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`
}

function minutes(text: string): number {
  const [hours = 0, rest = 0] = text.split(':').map(Number)
  return hours * 60 + rest
}
