import { Menu } from '@mantine/core'
import { Fragment, type ReactNode } from 'react'
import { DIRECTIONS } from '../../shared/directions.ts'
import { valueText } from '../../shared/numbers.ts'
import { madeOf, WANTED } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'
import { useChartSession } from '../session/ChartSession.tsx'
import { besideAxis } from '../session/mode.ts'
import words from './InPlace.module.css'
import { InPlace } from './InPlace.tsx'
import { useEdit } from './useEdit.ts'

/** Beside the name: unit, what it is made of, group, direction and target, each changed where it stands. */
export function Subtitle() {
  const { drawn, dispatch } = useChartSession()
  const edit = useEdit()
  const { unit, group, direction, target, target_high: high, numbers } = drawn.kpi
  const parts: [string, ReactNode][] = [
    [
      'unit',
      <InPlace
        key="unit"
        label="Unit"
        value={unit}
        none="no unit"
        maxLength={30}
        {...edit('unit')}
      />,
    ],
    ['basis', madeOf(drawn)],
    [
      'group',
      <InPlace
        key="group"
        label="Group"
        value={group}
        none="in no group"
        maxLength={60}
        {...edit('group')}
      />,
    ],
    [
      'direction',
      <Direction key="direction" direction={direction} onChoose={edit('direction').onSave} />,
    ],
    [
      'target',
      <button
        key="target"
        type="button"
        className={words.words}
        data-none={target === null || undefined}
        title="Change: target"
        onClick={() => dispatch(besideAxis('target'))}
      >
        {target === null
          ? 'no target'
          : `target ${valueText(target, numbers)}${high === null ? '' : ` to ${valueText(high, numbers)}`}`}
      </button>,
    ],
  ]
  return (
    <span className={`quiet ${classes.subtitle}`}>
      {parts
        .filter(([, part]) => part)
        .map(([name, part], at) => (
          <Fragment key={name}>
            {at > 0 && ' · '}
            {part}
          </Fragment>
        ))}
    </span>
  )
}

function Direction({
  direction,
  onChoose,
}: {
  direction: keyof typeof WANTED
  onChoose: (direction: string) => void
}) {
  return (
    <Menu position="bottom-start">
      <Menu.Target>
        <button
          type="button"
          className={words.words}
          data-none={direction === 'neither' || undefined}
          title="Change: wanted direction"
        >
          {WANTED[direction] || 'neither way is better'}
        </button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.RadioGroup value={direction} onChange={onChoose}>
          {DIRECTIONS.map(({ value, label }) => (
            <Menu.RadioItem key={value} value={value} closeMenuOnClick>
              {label}
            </Menu.RadioItem>
          ))}
        </Menu.RadioGroup>
      </Menu.Dropdown>
    </Menu>
  )
}
