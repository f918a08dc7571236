import { ActionIcon, Button, Menu } from '@mantine/core'
import { IconChevronDown, IconChevronLeft, IconChevronRight } from '@tabler/icons-react'
import type { Chart, Grain } from '../../chart/model/types.ts'
import { counted } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'
import { movedStretch, STRETCHES, type Stretch } from '../session/drafts/stretch.ts'

interface Props {
  chart: Chart
  newest: string
  stretch: Stretch | null
  onChange: (stretch: Stretch | null) => void
  onBy: (by: Grain) => void
  onBreakdown: (breakdown: string | null) => void
  breakdown: string | null
}

/** At which grain, of which breakdown, and which dates of it the chart shows. */
export function Dates(props: Props) {
  const { chart, newest, stretch, onChange, onBy, onBreakdown, breakdown } = props
  const { grain, grains, breakdowns } = chart.kpi
  const choices = STRETCHES[grain].filter((periods) => periods < chart.count)
  if (choices.length === 0 && grains.length < 2 && breakdowns.length === 0) return null
  const [start = 0, stop = 0] = chart.shown

  const move = (by: number) => stretch && onChange(movedStretch(stretch, by, newest))

  return (
    <div className={classes.dates}>
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
      <Menu position="bottom-end">
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
              stretch ? `last ${counted(stretch.periods, grain)}` : 'all dates',
            ].join(', ')}
          </Button>
        </Menu.Target>
        <Menu.Dropdown mah={430} style={{ overflowY: 'auto' }}>
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
              ...choices.map((choice): [string, string] => [
                String(choice),
                `Last ${counted(choice, grain)}`,
              ]),
            ]}
            value={stretch ? String(stretch.periods) : ''}
            onChange={(choice) =>
              onChange(choice ? { grain, periods: Number(choice), until: newest } : null)
            }
          />
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
    </div>
  )
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
