import { Button, Group } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { positionsWithin } from '../../chart/model/positions.ts'
import { hasContributions } from '../../shared/contributions/hasContributions.ts'
import { WhatMadeIt } from '../../shared/contributions/WhatMadeIt.tsx'
import { DayInput } from '../../shared/day/DayInput.tsx'
import { Notice } from '../../shared/Notice.tsx'
import classes from '../ChartPage.module.css'
import { useSummaries } from '../data/context.ts'
import { useChartSession } from '../session/ChartSession.tsx'
import type { Span } from '../session/mode.ts'
import { SummaryTable } from './SummaryTable.tsx'

/** The selected periods summarised beside the rest, and what can be done with them. */
export function Selections() {
  const { path, look, state, base } = useChartSession()
  const { spans } = state
  // Of two stretches the newer is held against the other.
  const before = spans.at(-2)
  const summaries = useSummaries(path, look.view, spans)
  const last = spans.at(-1)
  if (!last) return null
  const { data } = summaries
  if (summaries.error) return <Notice error={summaries.error} />
  return (
    <section className={`card ${classes.selection}`} aria-label="Selection">
      <header>
        <h2>
          {data?.columns[spans.length - 1]?.name ?? '\u00a0'}
          <span className="quiet">
            {' '}
            {data?.columns[spans.length - 1]?.heading}. {data?.columns[spans.length - 1]?.left_out}
          </span>
        </h2>
        <SplitDate />
        <Acts span={last} data={data} />
      </header>
      {data && <SummaryTable {...data} />}
      {look.breakdown === null && hasContributions(base.kpi) && (
        <WhatMadeIt
          path={path}
          asked={{
            ...last,
            by: base.kpi.grain,
            ...(before && { against: before }),
          }}
        />
      )}
    </section>
  )
}

/** The date that before and after are compared at, typed. */
function SplitDate() {
  const { state, base, acts } = useChartSession()
  const { period, position } = base.points
  if (state.split === null || base.kpi.grain === 'hour') return null
  return (
    <DayInput
      size="xs"
      w={130}
      aria-label="Compare before and after"
      value={period[position.indexOf(state.split)]?.slice(0, 10) ?? ''}
      onChange={(day) => {
        const at = position[period.findIndex((period) => period >= day)]
        if (at) acts.splitAt(at)
      }}
    />
  )
}

function Acts({ span, data }: { span: Span; data: ReturnType<typeof useSummaries>['data'] }) {
  const { look, state, dispatch, base, whole, acts, belowPoint } = useChartSession()
  const inside = positionsWithin(base, span.first, span.last)
  const [first, last] = [inside[0], inside.at(-1)]
  const segment = base.segments.findIndex(
    (segment) => first !== undefined && segment.first <= first && first < segment.stop,
  )
  const within = last !== undefined && last < (base.segments[segment]?.stop ?? 0)
  const act = (label: string, does: () => void, disabled = false) => (
    <Button size="compact-sm" variant="light" disabled={disabled} onClick={does}>
      {label}
    </Button>
  )
  const table = () =>
    data
      ? [
          ['', ...data.columns.map(({ name }) => name)],
          ...data.rows.map(({ name, texts }) => [name, ...texts]),
        ]
      : []
  const copy = async (text: string, said: string) => {
    await navigator.clipboard.writeText(text)
    notifications.show({ message: said, autoClose: 3000 })
  }
  return (
    <Group gap={6}>
      {act('Show only these dates', () => look.setStretch(span))}
      {whole && (
        <>
          {act('Start a segment here', () => first !== undefined && acts.placeShift(first), !first)}
          {act('Use as baseline', () => acts.takeBaseline(segment, span), !within)}
          {act('Set aside', () => acts.takeAllAside(span, inside.length), inside.length === 0)}
        </>
      )}
      {!state.trial &&
        act('Add an event', () => {
          if (first !== undefined) acts.addEvent(first, belowPoint(first), last)
        })}
      {act('Copy as a table', () =>
        copy(
          table()
            .map((row) => row.join('\t'))
            .join('\n'),
          'The table is copied.',
        ),
      )}
      {act('Copy the summary', () => {
        const { name, heading } = data?.columns[state.spans.length - 1] ?? {}
        copy(`${base.kpi.name}, ${name}: ${heading}.`, 'The summary is copied.')
      })}
      {act('Clear', () => dispatch({ type: 'clear spans' }))}
    </Group>
  )
}
