import { Button, Text } from '@mantine/core'
import type { ReactNode } from 'react'
import { ChartView } from '../chart/ChartView.tsx'
import { ALL_SHOWN } from '../chart/model/types.ts'
import { Notice } from '../shared/Notice.tsx'
import { counted } from '../shared/writing.ts'
import { Comparison, touched } from './Comparison.tsx'
import classes from './Intake.module.css'
import { FarOff } from './understood/FarOff.tsx'
import { including, KpiChooser } from './understood/KpiChooser.tsx'
import { KpiForm } from './understood/KpiForm.tsx'
import type { KpiChoice, Mapping, Mode, Reading } from './understood/table.ts'
import { saveWords } from './words.ts'

interface Props {
  read: Reading
  mapping: Mapping
  setMapping: (mapping: Mapping) => void
  into: string | null
  mode: Mode
  setMode: (mode: Mode) => void
  shown: string | null
  setShown: (key: string) => void
  save: () => void
  saving: boolean
  error: Error | null
  /** What the button says, where it does more than save. */
  saves?: string | null | undefined
  /** What is asked before it is saved. */
  children?: ReactNode
}

/** The chart that will result, and how its points come about. */
export function Outcome(props: Props) {
  const { read, mapping, setMapping, into, mode, setMode, setShown, save, saving, error } = props
  const { saves, children } = props
  const current = read.kpis.find((kpi) => kpi.key === read.shown)
  const wanted = read.kpis.filter((kpi) => kpi.choice.include)
  const blocked = read.problem_count > 0 && !mapping.leave_out
  const nameless =
    !into && wanted.some((kpi) => !(chosen(mapping, kpi.key).details?.name ?? kpi.name))
  const nothing = into
    ? !read.difference || touched(read.difference, mode) === 0
    : wanted.every((kpi) => kpi.value_count === 0)
  const set = (key: string, choice: KpiChoice) =>
    setMapping({
      ...mapping,
      kpis: { ...mapping.kpis, [key]: choice } as Mapping['kpis'],
    })
  return (
    <section className={classes.right} aria-label="The chart it will make">
      {read.kpis.length > 1 && (
        <KpiChooser
          reading={read}
          choosing={!into}
          nameOf={(kpi) => chosen(mapping, kpi.key).details?.name ?? (kpi.name || kpi.key)}
          onShow={(key) => {
            setShown(key)
            if (into) setMapping({ ...mapping, kpis: onlyThis(read, mapping, key) })
          }}
          onChoose={(choices) => setMapping(including(mapping, choices))}
        />
      )}
      {read.chart ? (
        <>
          <Text fw={600}>{read.chart.sentence.headline}</Text>
          <Text size="sm" c="dimmed" mb={2}>
            {capital(read.chart.basis)}. {read.chart.sentence.detail}
          </Text>
          <ChartView
            chart={read.chart}
            shown={ALL_SHOWN}
            height={300}
            changes={read.difference ?? null}
          />
        </>
      ) : (
        <Text c="dimmed">No row has both a date and a value yet.</Text>
      )}
      {current && read.chart && !into && (
        <FarOff
          values={read.chart.far_off}
          choice={chosen(mapping, current.key)}
          mendable={
            read.chart.kpi.breakdowns.length === 0 && read.chart.kpi.aggregation !== 'ratio'
          }
          onChange={(choice) => set(current.key, choice)}
        />
      )}
      {current && (
        <KpiForm
          key={current.key}
          kpi={current}
          choice={chosen(mapping, current.key)}
          settled={into !== null}
          onChange={(choice) => set(current.key, choice)}
        />
      )}
      {read.difference && <Comparison difference={read.difference} mode={mode} onMode={setMode} />}
      {children}
      {error && <Notice error={error} />}
      <div className={classes.save}>
        <Button
          disabled={blocked || nothing || nameless || read.of_head}
          loading={saving}
          onClick={save}
        >
          {saves ?? saveWords(read, wanted.length, into, mode)}
        </Button>
        {read.of_head && (
          <Text size="sm" c="dimmed">
            All rows are looked at first.
          </Text>
        )}
        {blocked && (
          <Text size="sm" c="dimmed">
            Put right or leave out {counted(read.problem_count, 'row')} first.
          </Text>
        )}
        {nameless && (
          <Text size="sm" c="dimmed">
            Give every KPI a name first.
          </Text>
        )}
      </div>
    </section>
  )
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

function chosen(mapping: Mapping, key: string): KpiChoice {
  return (mapping.kpis?.[key] ?? {}) as KpiChoice
}

/** Into a KPI that is there goes one series: the one that is looked at. */
function onlyThis(read: Reading, mapping: Mapping, key: string): Mapping['kpis'] {
  return Object.fromEntries(
    read.kpis.map((kpi) => [kpi.key, { ...chosen(mapping, kpi.key), include: kpi.key === key }]),
  ) as Mapping['kpis']
}
