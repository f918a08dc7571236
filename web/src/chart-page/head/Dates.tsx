import { ActionIcon, Button, Menu } from '@mantine/core'
import { IconChevronDown, IconChevronLeft, IconChevronRight } from '@tabler/icons-react'
import { lazy, Suspense } from 'react'
import type { Chart, Grain } from '../../chart/model/types.ts'
import { shortPeriod } from '../../shared/writing.ts'
import { movedStretch, offered, type Stretch } from '../session/drafts/stretch.ts'

// Its calendar is not needed before dates are chosen.
const TypedDates = lazy(async () => ({
  default: (await import('./TypedDates.tsx')).TypedDates,
}))

interface Props {
  chart: Chart
  newest: string
  stretch: Stretch | null
  onChange: (stretch: Stretch | null) => void
  onBy: (by: Grain) => void
  onBreakdown: (breakdown: string | null) => void
  breakdown: string | null
  /** Opens the card of when its days, weeks and years begin. */
  onCalendar: () => void
}

/** At which grain, of which breakdown, and which dates of it the chart shows. */
export function Dates(props: Props) {
  const { chart, newest, stretch, onChange, onBy, onBreakdown, breakdown, onCalendar } = props
  const { grain, grains, breakdowns } = chart.kpi
  const shift = chart.segments.at(-1)?.start ?? null
  const choices = offered(grain, newest, { count: chart.count, shift })
  const [start = 0, stop = 0] = chart.shown
  const same = (one: Stretch | null, other: Stretch) =>
    one?.first === other.first && one.last === other.last
  const chosen = choices.find((choice) => same(stretch, choice.stretch))
  const move = (by: number) => stretch && onChange(movedStretch(stretch, by, grain, newest))
  if (chart.count < 2 && grains.length < 2 && breakdowns.length === 0) return null

  return (
    <>
      {stretch && (
        <ActionIcon
          variant="subtle"
          aria-label="Earlier dates"
          disabled={start === 0}
          onClick={() => move(-1)}
        >
          <IconChevronLeft size={16} />
        </ActionIcon>
      )}
      <Menu position="bottom-end" closeOnItemClick={false}>
        <Menu.Target>
          <Button
            variant="subtle"
            color="gray"
            c="var(--quiet)"
            size="compact-sm"
            rightSection={<IconChevronDown size={14} aria-hidden />}
          >
            {[
              `by ${grain}`,
              ...(breakdown ? [breakdown] : breakdowns.length ? ['the whole'] : []),
              datesText(stretch, chosen?.name, grain),
            ].join(', ')}
          </Button>
        </Menu.Target>
        <Menu.Dropdown mah={470} style={{ overflowY: 'auto' }}>
          {grains.length > 1 && (
            <Choices
              label="By"
              options={grains.map((choice) => [choice, choice])}
              value={grain}
              onChange={(choice) => onBy(choice as Grain)}
            />
          )}
          {breakdowns.length > 0 && (
            <Choices
              label="Of"
              options={[
                ['', 'the whole'],
                ...breakdowns.map((choice): [string, string] => [choice, choice]),
              ]}
              value={breakdown ?? ''}
              onChange={(choice) => onBreakdown(choice || null)}
            />
          )}
          <Choices
            label="Dates"
            options={[
              ['', 'All dates'],
              ...choices.map(({ name }): [string, string] => [name, name]),
            ]}
            value={stretch ? (chosen?.name ?? 'others') : ''}
            onChange={(choice) =>
              onChange(choices.find(({ name }) => name === choice)?.stretch ?? null)
            }
          />
          <Suspense>
            <TypedDates {...{ stretch, chart, newest, onChange }} />
          </Suspense>
          <Menu.Divider />
          <Menu.Item closeMenuOnClick onClick={onCalendar}>
            Calendar, and how values are summed up…
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {stretch && (
        <ActionIcon
          variant="subtle"
          aria-label="Later dates"
          disabled={stop >= chart.count}
          onClick={() => move(1)}
        >
          <IconChevronRight size={16} />
        </ActionIcon>
      )}
    </>
  )
}

function datesText(stretch: Stretch | null, name: string | undefined, grain: Grain): string {
  if (!stretch) return 'all dates'
  if (name) return name.charAt(0).toLowerCase() + name.slice(1)
  const shown = grain === 'hour' || grain === 'week' ? 'day' : grain
  const [first, last] = [stretch.first, stretch.last].map((period) => shortPeriod(period, shown))
  return `${first} to ${last}`
}

/** One of several, under a heading. */
function Choices(props: {
  label: string
  /** Value and how it is called. */
  options: [string, string][]
  value: string
  onChange: (value: string) => void
}) {
  return (
    <>
      <Menu.Label>{props.label}</Menu.Label>
      <Menu.RadioGroup value={props.value} onChange={props.onChange}>
        {props.options.map(([value, name]) => (
          <Menu.RadioItem key={value} value={value} closeMenuOnClick>
            {name}
          </Menu.RadioItem>
        ))}
      </Menu.RadioGroup>
    </>
  )
}
