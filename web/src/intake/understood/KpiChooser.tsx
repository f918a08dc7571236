import { Button, Checkbox, Group, TextInput } from '@mantine/core'
import { useState } from 'react'
import { counted } from '../../shared/writing.ts'
import classes from '../Intake.module.css'
import type { KpiChoice, KpiRead, Mapping, Reading } from './table.ts'

interface Props {
  reading: Reading
  /** Whether each can be left out: not where one goes into a KPI that is there. */
  choosing: boolean
  nameOf: (kpi: KpiRead) => string
  onShow: (key: string) => void
  onChoose: (choices: Record<string, boolean>) => void
}

/** More than these are searched, and chosen or left out together. */
const FEW = 12
const SHOWN = 60

/** The KPIs of a table: which are brought in, and which is looked at. */
export function KpiChooser(props: Props) {
  const { reading, choosing, nameOf, onShow, onChoose } = props
  const [text, setText] = useState('')
  const words = text.toLowerCase().split(/\s+/)
  const found = reading.kpis.filter((kpi) =>
    words.every((word) => `${nameOf(kpi)} ${kpi.key}`.toLowerCase().includes(word)),
  )
  const all = (include: boolean) =>
    onChoose(Object.fromEntries(found.map(({ key }) => [key, include])))
  return (
    <>
      {reading.kpis.length > FEW && (
        <Group gap="xs" mb={6}>
          <TextInput
            size="xs"
            aria-label="Find a KPI of the table"
            placeholder={`Find one of ${counted(reading.kpis.length, 'KPI')}`}
            value={text}
            onChange={(event) => setText(event.currentTarget.value)}
          />
          {choosing && (
            <>
              <Button size="xs" variant="default" onClick={() => all(true)}>
                {text ? 'These' : 'All'}
              </Button>
              <Button size="xs" variant="default" onClick={() => all(false)}>
                {text ? 'Not these' : 'None'}
              </Button>
            </>
          )}
        </Group>
      )}
      <ul className={classes.tabs} aria-label="KPIs in the table">
        {found.slice(0, SHOWN).map((kpi) => (
          <li key={kpi.key} data-current={kpi.key === reading.shown}>
            {choosing && (
              <Checkbox
                size="xs"
                aria-label={`Bring in ${nameOf(kpi)}`}
                checked={kpi.choice.include ?? true}
                onChange={(event) => onChoose({ [kpi.key]: event.currentTarget.checked })}
              />
            )}
            <button
              type="button"
              aria-pressed={kpi.key === reading.shown}
              onClick={() => onShow(kpi.key)}
            >
              {nameOf(kpi)}
            </button>
          </li>
        ))}
      </ul>
      {found.length > SHOWN && (
        <p className="quiet">{`The first ${SHOWN} of ${counted(found.length, 'KPI')}; type a part of a name to find others.`}</p>
      )}
      {found.length === 0 && <p className="quiet">None has a name with that in it.</p>}
    </>
  )
}

/** The choices of a mapping with some KPIs brought in and others not. */
export function including(mapping: Mapping, choices: Record<string, boolean>): Mapping {
  const kpis = { ...mapping.kpis } as Record<string, KpiChoice>
  for (const [key, include] of Object.entries(choices)) kpis[key] = { ...kpis[key], include }
  return { ...mapping, kpis: kpis as Mapping['kpis'] }
}
