import { Loader } from '@mantine/core'
import { lazy, Suspense } from 'react'
import type { KpiPath } from '../api/keys.ts'
import { ChartView } from '../chart/ChartView.tsx'
import { builtUp } from '../chart/model/building.ts'
import { positionsWithin } from '../chart/model/positions.ts'
import { ALL_SHOWN, type Chart } from '../chart/model/types.ts'
import { useChart } from '../chart-page/data/chart.ts'
import { useLane } from '../chart-page/data/context.ts'
import { useKpiFindings } from '../findings/findings.ts'
import { useSize } from '../shared/looking/useSize.ts'
import { Notice } from '../shared/Notice.tsx'
import { days } from '../shared/writing.ts'
import classes from './Meeting.module.css'
import type { Thing } from './meeting.ts'

/** So much larger is a chart drawn than on its page: its texts are 20 px high. */
const LARGER = 1.7
/** Below so many pixels there is no room for that. */
const NARROW = 700
export const VIEW = { width: 900 }

const Comparison = lazy(async () => ({ default: (await import('./Comparison.tsx')).Comparison }))
const Prose = lazy(() => import('../panels/Prose.tsx'))

interface ThingProps extends Pick<ShownProps, 'step' | 'steps'> {
  workspace: string
  thing: Thing | undefined
}

/** One thing on screen: a chart, words, or a comparison; that there is nothing. */
export function OnScreen({ workspace, thing, step, steps }: ThingProps) {
  if (!thing) return <p className={classes.sentence}>There is nothing to show here.</p>
  return (
    <>
      {thing.kpi && <Shown path={{ workspace, kpi: thing.kpi }} {...{ thing, step, steps }} />}
      {thing.text !== undefined && (
        <div className={classes.stage} style={{ fontSize: 28 }}>
          <Suspense>
            <Prose text={thing.text} />
          </Suspense>
        </div>
      )}
      {thing.panel && (
        <div className={classes.compared}>
          <Suspense>
            <Comparison workspace={workspace} panel={thing.panel} />
          </Suspense>
        </div>
      )}
    </>
  )
}

interface ShownProps {
  path: KpiPath
  thing: Thing
  step: number | null
  steps: { part: Parameters<typeof builtUp>[1][number]; text: string }[] | null
}

/** A chart with its sentence; what happened is spelled out beside it. */
function Shown({ path, thing, step, steps }: ShownProps) {
  const chart = useChart(path, VIEW)
  const { ref, width, height } = useSize()
  const view = chart.data?.views.find(({ name }) => name === thing.view)
  const asked = {
    ...VIEW,
    ...(view?.by ? { by: view.by } : {}),
    ...(view?.breakdown ? { breakdown: view.breakdown } : {}),
    ...(view?.first && view.last ? { first: view.first, last: view.last } : {}),
  }
  const viewed = useChart(path, asked)
  const found = useKpiFindings(path, thing.finding !== undefined)
  const [first = '', last = ''] = endsOf(viewed.data)
  const pins = useLane(path, first, last, asked)
  if (chart.isPending || viewed.isPending) return <Loader role="status" aria-label="Loading" />
  const error = chart.error ?? viewed.error
  const data = viewed.data
  if (error || !data) return <Notice error={error} retry={viewed.refetch} />
  const parts = step === null || !steps ? null : steps.slice(0, step + 1).map(({ part }) => part)
  const built = parts ? builtUp(data, parts) : { chart: data, shown: ALL_SHOWN }
  const larger = width < NARROW ? 1.15 : LARGER
  const finding = found.data?.find(({ id }) => id === thing.finding)
  const said = finding && `${finding.title}, ${finding.label}. ${finding.cause || finding.text}`
  const lit = finding ? positionsWithin(data, finding.first, finding.last) : []
  const told = parts === null || parts.includes('events')
  const events = (pins.data ?? []).flatMap((pin) => pin.events)
  const sentence = (steps && step !== null ? steps[step]?.text : said) ?? data.sentence.headline
  return (
    <>
      <p className={classes.name}>
        {data.kpi.name}
        {view && `, ${view.name}`}
      </p>
      <h1 key={sentence} className={classes.sentence} aria-live="polite">
        {sentence}
      </h1>
      <div className={classes.stage} data-told={(told || steps !== null) && events.length > 0}>
        <div ref={ref} className={classes.drawn}>
          {width > 0 && height > 0 && (
            <ChartView
              {...built}
              lit={lit}
              pins={told ? (pins.data ?? []) : []}
              drawnAt={width / larger}
              scale={larger}
              height={Math.max(260, height) / larger}
            />
          )}
        </div>
        {told && events.length > 0 && <Told chart={data} events={events} />}
      </div>
    </>
  )
}

function Told({
  chart,
  events,
}: {
  chart: Chart
  events: { id: number; title: string; first: string; last: string }[]
}) {
  const names = new Map<string, { count: number; first: string; last: string }>()
  for (const { title, first, last } of events) {
    const seen = names.get(title)
    names.set(title, { count: (seen?.count ?? 0) + 1, first, last })
  }
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a long list is scrolled by keys as well
    <aside className={classes.told} aria-label="What happened" tabIndex={0}>
      <h2>What happened</h2>
      <ul>
        {[...names].map(([title, { count, first, last }]) => (
          <li key={title}>
            {title}
            <small>{count === 1 ? days(first, last) : `${count} times`}</small>
          </li>
        ))}
      </ul>
      {chart.segments.length > 1 && (
        <>
          <h2>Segments</h2>
          <ul>
            {chart.segments.map((segment) => (
              <li key={segment.start ?? ''}>
                {segment.name || 'No name'}
                <small>
                  from {segment.label}
                  {segment.what_changed && `: ${segment.what_changed}`}
                </small>
              </li>
            ))}
          </ul>
        </>
      )}
    </aside>
  )
}

function endsOf(chart: Chart | undefined): (string | undefined)[] {
  const { period = [] } = chart?.points ?? {}
  return [period[0]?.slice(0, 10), period.at(-1)?.slice(0, 10)]
}
