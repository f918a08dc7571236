import { Loader } from '@mantine/core'
import { useElementSize } from '@mantine/hooks'
import { type ComponentType, lazy, type ReactNode, useEffect } from 'react'
import { Link } from 'react-router'
import { ChartView } from '../chart/ChartView.tsx'
import { useHairlineTime } from '../chart/hairline.tsx'
import { OWN_LINES, shownBut, withHidden } from '../chart/model/views.ts'
import { dayTime, place, type Span } from '../chart/small/place.ts'
import { NearHairline, SmallPlot } from '../chart/small/SmallPlot.tsx'
import { useChart } from '../chart-page/data/chart.ts'
import {
  type Measure,
  type PairAsked,
  type PartOrder,
  useGoal,
  usePair,
  useParts,
  usePlaces,
  useShares,
} from '../compare/compare.ts'
import { type Row, useOverview } from '../overview/overview.ts'
import type { DatesAsked } from '../shared/looking/useDates.ts'
import { datesInAddress } from '../shared/looking/useDates.ts'
import { Notice } from '../shared/Notice.tsx'
import { amountText } from '../shared/numbers.ts'
import { shortPeriod } from '../shared/writing.ts'
import classes from './Pages.module.css'
import { datesSent, type Panel } from './pages.ts'

const part = <K extends string, P extends object>(
  load: () => Promise<Record<K, ComponentType<P>>>,
  name: K,
) => lazy(async () => ({ default: (await load())[name] }))

// A page loads what its panels show, and no more.
const PartsView = part(() => import('../compare/PartsView.tsx'), 'PartsView')
const GoalView = part(() => import('../compare/GoalView.tsx'), 'GoalView')
const PairView = part(() => import('../compare/PairView.tsx'), 'PairView')
const PlacesView = part(() => import('../compare/PlacesView.tsx'), 'PlacesView')
const SharesView = part(() => import('../compare/SharesView.tsx'), 'SharesView')
const Prose = lazy(() => import('./Prose.tsx'))

export interface PanelProps {
  workspace: string
  panel: Panel
  /** Those of the page. */
  dates: DatesAsked
  /** Where the axis begins and ends, where several charts share one. */
  axis: Span | null
  onReach: (unit: string, reach: Span) => void
}

/** What a panel shows: a title that is a sentence, and the picture below it. */
export function PanelBody(props: PanelProps) {
  const { panel } = props
  const gone =
    panel.gone.length > 0 && (panel.kind !== 'goal' || panel.gone.length === panel.kpis.length)
  if (gone)
    return (
      <Framed title={`${panel.gone.join(' and ')} is gone`}>
        <p className={classes.detail}>
          The KPI that this panel showed has been deleted. Remove the panel, or leave the place.
        </p>
      </Framed>
    )
  const Body = BODIES[panel.kind]
  return (
    <Body {...props} dates={panel.dates ? (datesSent(panel.dates) as DatesAsked) : props.dates} />
  )
}

const BODIES: Record<Panel['kind'], (props: PanelProps) => ReactNode> = {
  chart: ChartPanel,
  number: NumberPanel,
  parts: PartsPanel,
  shares: SharesPanel,
  places: PlacesPanel,
  goal: GoalPanel,
  pair: PairPanel,
  overview: OverviewPanel,
  text: ({ panel }) => (
    <Filled className={classes.text ?? ''}>
      <Prose text={panel.text} />
    </Filled>
  ),
}

/** The title of a panel, which leads to where it came from, and what is below it. */
function Framed({
  title,
  to,
  own,
  detail,
  children,
}: {
  title: string
  to?: string
  own?: Panel['dates']
  detail?: string
  children: ReactNode
}) {
  return (
    <>
      <header>
        <h2>
          {to ? (
            <Link className={classes.lead} to={to}>
              {title}
            </Link>
          ) : (
            title
          )}
        </h2>
        {own && <span className={classes.own}>{ownText(own)}</span>}
      </header>
      {detail && <p className={classes.detail}>{detail}</p>}
      {children}
    </>
  )
}

/** What fills the rest of a panel, and can be scrolled where there is not room for all of it. */
function Filled({ className = '', children }: { className?: string; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what is cut off is reached by the keys as well
    <div className={`${classes.fill} ${classes.scrolls} ${className}`} tabIndex={0}>
      {children}
    </div>
  )
}

function ownText({ first, last, weeks }: NonNullable<Panel['dates']>): string {
  if (first && last) return `own dates: ${shortPeriod(first, 'day')} to ${shortPeriod(last, 'day')}`
  return weeks ? `own dates: last ${weeks} weeks` : 'own dates: all'
}

function Waiting({ query }: { query: { error: Error | null; refetch: () => void } }) {
  return query.error ? (
    <Notice error={query.error} retry={query.refetch} />
  ) : (
    <Loader size="sm" role="status" aria-label="Loading" />
  )
}

/** An address with what is asked in it. */
function addressOf(path: string, asked: Record<string, string | string[] | null | undefined>) {
  const query = new URLSearchParams()
  for (const [name, value] of Object.entries(asked))
    for (const one of Array.isArray(value) ? value : [value]) if (one) query.append(name, one)
  return query.size ? `${path}?${query}` : path
}

const datesOfPanel = ({ panel, dates }: PanelProps) => (panel.dates ? datesInAddress(dates) : {})

/** Pixels that a chart needs at the least; it is scrolled where a panel has fewer. */
const LOWEST = 160

function ChartPanel(props: PanelProps) {
  const { workspace, panel, dates, axis, onReach } = props
  const { ref, height } = useElementSize()
  const kpi = panel.kpis[0] ?? ''
  const query = useChart({ workspace, kpi }, { width: 600, ...dates })
  const chart = query.data
  const values = chart?.points.value
  // biome-ignore lint/correctness/useExhaustiveDependencies: it reaches as far as its values do
  useEffect(() => {
    if (!values?.length || !chart) return
    const levels = chart.segments.flatMap(({ lower, upper }) => [lower, upper])
    const all = [...values, ...levels].filter((one) => one !== null)
    onReach(chart.kpi.unit, [Math.min(...all), Math.max(...all)])
  }, [values])
  if (!chart) return <Waiting query={query} />
  const view = chart.views.find(({ name }) => name === panel.view)
  const hidden = view?.hidden ?? []
  const drawn = view ? withHidden(chart, hidden) : chart
  return (
    <Framed
      title={chart.sentence.headline}
      to={addressOf(`/${workspace}/charts/${kpi}`, { view: panel.view })}
      own={panel.dates}
      detail={chart.sentence.detail}
    >
      <div ref={ref} className={`${classes.fill} ${classes.scrolls}`}>
        <ChartView
          chart={axis ? { ...drawn, axis: { ...drawn.axis, low: axis[0], high: axis[1] } } : drawn}
          shown={shownBut(hidden.filter((name) => OWN_LINES.some((own) => own === name)))}
          height={Math.max(LOWEST, height)}
          shared
        />
      </div>
    </Framed>
  )
}

function NumberPanel({ workspace, panel, dates }: PanelProps) {
  const kpi = panel.kpis[0] ?? ''
  const query = useChart({ workspace, kpi }, { width: 300, ...dates })
  const chart = query.data
  if (!chart) return <Waiting query={query} />
  const last = chart.points.value.at(-1)
  return (
    <div className={classes.number}>
      <b>{last === undefined ? '–' : amountText(last, chart.kpi.numbers)}</b>
      <div>
        <h2>
          <Link className={classes.lead} to={`/${workspace}/charts/${kpi}`}>
            {chart.sentence.headline}
          </Link>
        </h2>
        <p className={classes.detail}>
          {shortPeriod(chart.points.period.at(-1) ?? '', chart.kpi.grain)}. {chart.sentence.detail}
        </p>
      </div>
    </div>
  )
}

function PartsPanel(props: PanelProps) {
  const { workspace, panel, dates } = props
  const kpi = panel.kpis[0] ?? ''
  const { order, parts, one_plot } = panel.options
  const asked = { ...dates, order: (order || 'name') as PartOrder, part: parts }
  const query = useParts(workspace, kpi, asked)
  if (!query.data) return <Waiting query={query} />
  const look = { order: asked.order, onePlot: one_plot, parts }
  const address = { kpi, order, part: parts, plot: one_plot ? 'one' : null, ...datesOfPanel(props) }
  return (
    <Framed
      title={`${query.data.name}: ${query.data.answer}`}
      to={addressOf(`/${workspace}/compare/parts`, address)}
      own={panel.dates}
    >
      <Filled>
        <PartsView data={query.data} look={look} onLook={null} />
      </Filled>
    </Framed>
  )
}

function SharesPanel(props: PanelProps) {
  const { workspace, panel, dates } = props
  const kpi = panel.kpis[0] ?? ''
  const query = useShares(workspace, kpi, dates)
  if (!query.data) return <Waiting query={query} />
  return (
    <Framed
      title={`${query.data.name}: ${query.data.sentence}`}
      to={addressOf(`/${workspace}/compare/shares`, { kpi, ...datesOfPanel(props) })}
      own={panel.dates}
    >
      <Filled>
        <SharesView data={query.data} bare />
      </Filled>
    </Framed>
  )
}

function PlacesPanel(props: PanelProps) {
  const { workspace, panel, dates } = props
  const kpi = panel.kpis[0] ?? ''
  const measure = (panel.options.measure || 'average') as Measure
  const query = usePlaces(workspace, kpi, { ...dates, measure })
  if (!query.data) return <Waiting query={query} />
  return (
    <Framed
      title={`${query.data.name} by place`}
      to={addressOf(`/${workspace}/compare/places`, { kpi, measure, ...datesOfPanel(props) })}
      own={panel.dates}
    >
      <Filled>
        <PlacesView {...{ workspace, measure }} data={query.data} onMeasure={null} />
      </Filled>
    </Framed>
  )
}

function GoalPanel(props: PanelProps) {
  const { workspace, panel, dates } = props
  const { goal } = panel.options
  const kpi = panel.kpis
  const query = useGoal(workspace, { ...dates, kpi, ...(goal === null ? {} : { goal }) })
  if (!query.data) return <Waiting query={query} />
  const text = query.data.panels[0]?.goal_text
  return (
    <Framed
      title={`${panel.names.join(', ')}${text ? ` against ${text}` : ''}`}
      to={addressOf(`/${workspace}/compare/goal`, {
        kpi,
        goal: goal === null ? null : String(goal),
        ...datesOfPanel(props),
      })}
      own={panel.dates}
    >
      <Filled>
        <GoalView data={query.data} wide={false} />
      </Filled>
    </Framed>
  )
}

function PairPanel(props: PanelProps) {
  const { workspace, panel, dates } = props
  const [x = '', y = ''] = panel.kpis
  const { lag } = panel.options
  const by = (panel.options.by || undefined) as PairAsked['by']
  const asked = { ...dates, x, y, lag, as_they_are: false, ...(by ? { by } : {}) }
  const query = usePair(workspace, asked)
  if (!query.data) return <Waiting query={query} />
  return (
    <Framed
      title={query.data.sentence}
      to={addressOf(`/${workspace}/compare/pair`, {
        x,
        y,
        lag: lag ? String(lag) : null,
        by,
        ...datesOfPanel(props),
      })}
      own={panel.dates}
    >
      <Filled>
        <PairView data={query.data} asTheyAre={false} onLag={null} onAsTheyAre={null} />
      </Filled>
    </Framed>
  )
}

const STRIP = 34

function OverviewPanel(props: PanelProps) {
  const { workspace, panel, dates } = props
  const wanted = {
    shows: 'all' as const,
    order: 'group' as const,
    folded: [],
    ...(panel.group ? { group: panel.group } : {}),
    ...dates,
  }
  const [query] = useOverview(workspace, wanted, [0])
  const data = query?.data
  if (!query || !data) return <Waiting query={query ?? { error: null, refetch: () => undefined }} />
  const domain: Span = [dayTime(data.first ?? ''), dayTime(data.last ?? '')]
  return (
    <Framed
      title={`${panel.group ? `${panel.group}: ` : ''}${data.sentence}`}
      to={addressOf(`/${workspace}`, datesOfPanel(props))}
      own={panel.dates}
    >
      <Filled className={classes.strips ?? ''}>
        {data.rows.map((row) => (
          <SmallStrip key={row.slug} {...{ workspace, row, domain }} />
        ))}
      </Filled>
    </Framed>
  )
}

function SmallStrip({ workspace, row, domain }: { workspace: string; row: Row; domain: Span }) {
  const { ref, width } = useElementSize()
  const placed = place(row.chart, { width: Math.max(60, width), height: STRIP }, domain)
  const time = useHairlineTime()
  return (
    <>
      <Link to={`/${workspace}/charts/${row.slug}`} title={row.name}>
        {row.name}
      </Link>
      <div ref={ref}>
        <svg
          width={placed.width}
          height={STRIP}
          role="img"
          aria-label={`${row.name} from ${row.chart.range}`}
        >
          <SmallPlot chart={row.chart} placed={placed} color="var(--quiet)" markSize={3} />
          {time !== null && <NearHairline chart={row.chart} placed={placed} time={time} />}
        </svg>
      </div>
      <span title={row.more}>{row.what}</span>
    </>
  )
}
