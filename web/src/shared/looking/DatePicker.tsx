import { Button, Menu } from '@mantine/core'
import { IconChevronDown } from '@tabler/icons-react'
import { useState } from 'react'
import { TwoDays } from '../day/TwoDays.tsx'
import { days } from '../writing.ts'
import type { DatesAsked } from './useDates.ts'

const PRESETS: [string, DatesAsked][] = [
  ['Last 12 weeks', { weeks: 12 }],
  ['Last 26 weeks', { weeks: 26 }],
  ['Last 52 weeks', { weeks: 52 }],
  ['Last 3 years', { weeks: 156 }],
  ['All dates', {}],
]

interface Props {
  dates: DatesAsked
  /** The days that are shown by now. */
  shown: readonly [string, string] | null
  onChange: (dates: DatesAsked) => void
}

/** The dates of several charts at once: presets, or two days that are typed or picked. */
export function DatePicker({ dates, shown, onChange }: Props) {
  const [opened, setOpened] = useState(false)
  const preset = PRESETS.find(
    ([, one]) => one.weeks === dates.weeks && one.first === dates.first && one.last === dates.last,
  )
  const choose = (chosen: DatesAsked) => {
    setOpened(false)
    onChange(chosen)
  }
  return (
    <Menu position="bottom-end" opened={opened} onChange={setOpened} closeOnItemClick={false}>
      <Menu.Target>
        <Button
          variant="subtle"
          color="gray"
          c="var(--quiet)"
          size="compact-sm"
          rightSection={<IconChevronDown size={14} aria-hidden />}
        >
          {preset?.[0].toLowerCase() ?? (shown ? days(...shown) : 'dates')}
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {PRESETS.map(([name, one]) => (
          <Menu.Item key={name} onClick={() => choose(one)}>
            {name}
          </Menu.Item>
        ))}
        <Menu.Divider />
        <TwoDays
          key={shown?.join()}
          first={shown?.[0] ?? ''}
          last={shown?.[1] ?? ''}
          onChoose={(first, last) => choose({ first, last })}
        />
      </Menu.Dropdown>
    </Menu>
  )
}
