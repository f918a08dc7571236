import { Loader, MultiSelect, NumberInput, Select, Title } from '@mantine/core'
import { type ReactNode, useEffect } from 'react'
import { Link, useParams } from 'react-router'
import { HandOverSeen } from '../chart/HandOverSeen.tsx'
import { HairlineProvider } from '../chart/hairline.tsx'
import { AddToPage } from '../pages/AddToPage.tsx'
import type { NewPanel } from '../panels/panels.ts'
import { type KpiRow, useKpis } from '../shared/kpis.ts'
import { DatePicker } from '../shared/looking/DatePicker.tsx'
import { datesInAddress, ownDates, useAddress } from '../shared/looking/useDates.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Compare.module.css'
import {
  type Measure,
  type PairAsked,
  type PartOrder,
  useGoal,
  usePair,
  useParts,
  usePlaces,
  useShares,
} from './compare.ts'
import { GoalView } from './GoalView.tsx'
import { PairView } from './PairView.tsx'
import { PartsView } from './PartsView.tsx'
import { PlacesView } from './PlacesView.tsx'
import { SharesView } from './SharesView.tsx'
import { Suggestions } from './Suggestions.tsx'

const COMPARISONS = [
  ['parts', 'By its parts'],
  ['goal', 'Against a goal'],
  ['pair', 'Against each other'],
  ['places', 'By place'],
  ['shares', 'Share of a total'],
] as const
type Way = (typeof COMPARISONS)[number][0]

/** KPIs, parts and people side by side, in five ways. */
export function ComparePage() {
  const { workspace = '', way = 'parts' } = useParams()
  const kpis = useKpis(workspace)
  const chosen = COMPARISONS.find(([name]) => name === way)?.[0] ?? 'parts'
  const { address } = useAddress()
  useEffect(() => {
    document.title = 'Compare · Fluctus'
  }, [])
  const kpi = address.get('kpi') ?? address.get('x') ?? ''
  const query = kpi ? `?kpi=${encodeURIComponent(kpi)}&x=${encodeURIComponent(kpi)}` : ''
  const Screen = SCREENS[chosen]
  return (
    <HairlineProvider key={chosen}>
      <Title order={1} size={25}>
        Compare
      </Title>
      <nav className={classes.ways} aria-label="Ways to compare">
        {COMPARISONS.map(([name, label]) => (
          <Link
            key={name}
            to={`/${workspace}/compare/${name}${query}`}
            aria-current={name === chosen ? 'page' : undefined}
          >
            {label}
          </Link>
        ))}
      </nav>
      {/* What is chosen has a question of its own. */}
      {!kpi && kpis.data && <Suggestions workspace={workspace} kpis={kpis.data} />}
      {kpis.isPending && <Loader role="status" aria-label="Loading" />}
      {kpis.error && <Notice error={kpis.error} retry={kpis.refetch} />}
      {kpis.data && (
        <div data-shown>
          <Screen workspace={workspace} kpis={kpis.data} />
        </div>
      )}
    </HairlineProvider>
  )
}

interface ScreenProps {
  workspace: string
  kpis: KpiRow[]
}

const SCREENS: Record<Way, (props: ScreenProps) => ReactNode> = {
  parts: PartsScreen,
  goal: GoalScreen,
  pair: PairScreen,
  places: PlacesScreen,
  shares: SharesScreen,
}

/** What is asked, above what is answered, with the dates and the way onto a page. */
function Asked({
  workspace,
  shown,
  panel,
  children,
}: {
  workspace: string
  shown: { first: string | null; last: string | null } | undefined
  panel: NewPanel | null
  children: ReactNode
}) {
  const { dates, ask } = useAddress()
  return (
    <div className={classes.asked} data-on-screen>
      {children}
      <DatePicker
        dates={dates}
        shown={shown?.first && shown.last ? [shown.first, shown.last] : null}
        onChange={(next) => ask(datesInAddress(next))}
      />
      {panel && <AddToPage workspace={workspace} panels={[panel]} size="xs" />}
      {panel && (
        <HandOverSeen
          find={() => document.querySelector<HTMLElement>('[data-shown]')}
          name={`compare-${panel.kind}`}
          meeting={`/${workspace}/meeting?panel=${encodeURIComponent(JSON.stringify(panel))}`}
        />
      )}
    </div>
  )
}

function State({ query, nothing }: { query: QueryState; nothing: string | null }) {
  if (nothing) return <p className={classes.how}>{nothing}</p>
  if (query.error) return <Notice error={query.error} retry={query.refetch} />
  return query.isPending ? <Loader role="status" aria-label="Loading" /> : null
}

interface QueryState {
  isPending: boolean
  error: Error | null
  refetch: () => void
}

const named = (kpis: KpiRow[]) => kpis.map(({ slug, name }) => ({ value: slug, label: name }))

function OneKpi({
  kpis,
  value,
  label = 'KPI',
  onChange,
}: {
  kpis: KpiRow[]
  value: string
  label?: string
  onChange: (slug: string) => void
}) {
  return (
    <Select
      size="xs"
      w={220}
      searchable
      limit={100}
      label={label}
      placeholder="Choose a KPI"
      nothingFoundMessage="No KPI is named so"
      data={named(kpis)}
      value={value || null}
      onChange={(slug) => slug && onChange(slug)}
    />
  )
}

/** The KPI that is asked for, or the first one that has parts. */
const kpiWithParts = (address: URLSearchParams, kpis: KpiRow[]) =>
  address.get('kpi') ?? kpis.find(({ parts }) => parts > 0)?.slug ?? ''

const NO_PARTS =
  'No KPI has parts yet. Bring in a table with a column of names, such as quay, vessel or person.'

function PartsScreen({ workspace, kpis }: ScreenProps) {
  const { address, dates, ask, askAll } = useAddress()
  const kpi = kpiWithParts(address, kpis)
  const order = (address.get('order') ?? 'name') as PartOrder
  const part = address.getAll('part')
  const onePlot = address.get('plot') === 'one'
  const parts = useParts(workspace, kpi, { ...dates, order, part })
  const options = { order, parts: part, one_plot: onePlot }
  return (
    <>
      <Asked
        workspace={workspace}
        shown={parts.data?.dates}
        panel={kpi ? { kind: 'parts', kpis: [kpi], options, dates: ownDates(address) } : null}
      >
        <OneKpi {...{ kpis }} value={kpi} onChange={(slug) => ask({ kpi: slug, part: null })} />
      </Asked>
      <State query={parts} nothing={kpi ? null : NO_PARTS} />
      {parts.data && !parts.error && (
        <PartsView
          data={parts.data}
          look={{ order, onePlot, parts: part }}
          onLook={(look) => {
            if (look.parts) askAll('part', look.parts)
            else
              ask({
                ...(look.order ? { order: look.order } : {}),
                ...(look.onePlot === undefined ? {} : { plot: look.onePlot ? 'one' : null }),
              })
          }}
          onDates={(first, last) => ask(datesInAddress({ first, last }))}
        />
      )}
    </>
  )
}

function SharesScreen({ workspace, kpis }: ScreenProps) {
  const { address, dates, ask } = useAddress()
  const kpi = kpiWithParts(address, kpis)
  const shares = useShares(workspace, kpi, dates)
  return (
    <>
      <Asked
        workspace={workspace}
        shown={shares.data?.dates}
        panel={kpi ? { kind: 'shares', kpis: [kpi], dates: ownDates(address) } : null}
      >
        <OneKpi {...{ kpis }} value={kpi} onChange={(slug) => ask({ kpi: slug })} />
      </Asked>
      <State query={shares} nothing={kpi ? null : NO_PARTS} />
      {shares.data && !shares.error && <SharesView data={shares.data} />}
    </>
  )
}

function PlacesScreen({ workspace, kpis }: ScreenProps) {
  const { address, dates, ask } = useAddress()
  const kpi = kpiWithParts(address, kpis)
  const measure = (address.get('measure') ?? 'average') as Measure
  const places = usePlaces(workspace, kpi, { ...dates, measure })
  const charts = useParts(workspace, kpi, { ...dates, order: 'name', part: [] })
  return (
    <>
      <Asked
        workspace={workspace}
        shown={places.data?.dates}
        panel={
          kpi
            ? { kind: 'places', kpis: [kpi], options: { measure }, dates: ownDates(address) }
            : null
        }
      >
        <OneKpi {...{ kpis }} value={kpi} onChange={(slug) => ask({ kpi: slug })} />
      </Asked>
      <State query={places} nothing={kpi ? null : NO_PARTS} />
      {places.data && !places.error && (
        <PlacesView
          {...{ workspace, measure }}
          data={places.data}
          charts={charts.data}
          onMeasure={(value) => ask({ measure: value })}
        />
      )}
    </>
  )
}

function GoalScreen({ workspace, kpis }: ScreenProps) {
  const { address, dates, ask, askAll } = useAddress()
  const kpi = address.getAll('kpi')
  const typed = address.get('goal')
  const goal = typed === null || Number.isNaN(Number(typed)) ? undefined : Number(typed)
  const low = Number(address.get('low') ?? Number.NaN)
  const high = Number(address.get('high') ?? Number.NaN)
  const against = useGoal(workspace, { ...dates, kpi, ...(goal === undefined ? {} : { goal }) })
  const end = (name: string, value: number) => (
    <NumberInput
      size="xs"
      w={92}
      label={name === 'low' ? 'Axis from' : 'to'}
      placeholder="fits"
      value={Number.isNaN(value) ? '' : value}
      onChange={(next) => ask({ [name]: next === '' ? null : String(next) })}
    />
  )
  return (
    <>
      <Asked
        workspace={workspace}
        shown={against.data?.dates}
        panel={
          kpi.length
            ? {
                kind: 'goal',
                kpis: kpi,
                options: goal === undefined ? {} : { goal },
                dates: ownDates(address),
              }
            : null
        }
      >
        <MultiSelect
          size="xs"
          miw={260}
          maw={460}
          searchable
          limit={100}
          maxValues={24}
          label="KPIs"
          placeholder={kpi.length ? '' : 'Choose KPIs'}
          data={named(kpis)}
          value={kpi}
          onChange={(slugs) => askAll('kpi', slugs)}
        />
        <NumberInput
          size="xs"
          w={110}
          label="Goal"
          placeholder="their own"
          value={goal ?? ''}
          onChange={(next) => ask({ goal: next === '' ? null : String(next) })}
        />
        {end('low', low)}
        {end('high', high)}
      </Asked>
      <State
        query={against}
        nothing={kpi.length ? null : 'Choose KPIs, or paste a table of people with their goal.'}
      />
      {against.data && !against.error && (
        <GoalView
          workspace={workspace}
          data={against.data}
          fixed={low < high ? [low, high] : null}
        />
      )}
    </>
  )
}

function PairScreen({ workspace, kpis }: ScreenProps) {
  const { address, dates, ask } = useAddress()
  const x = address.get('x') ?? address.get('kpi') ?? ''
  const y = address.get('y') ?? ''
  const lag = Math.min(12, Math.max(0, Number(address.get('lag')) || 0))
  const asTheyAre = address.get('as') === 'they-are'
  const by = (address.get('by') ?? undefined) as PairAsked['by']
  const asked = { ...dates, x, y, lag, as_they_are: asTheyAre, ...(by ? { by } : {}) }
  const pair = usePair(workspace, asked)
  return (
    <>
      <Asked
        workspace={workspace}
        shown={pair.data?.dates}
        panel={
          x && y
            ? {
                kind: 'pair',
                kpis: [x, y],
                options: { lag, ...(by ? { by } : {}) },
                dates: ownDates(address),
              }
            : null
        }
      >
        <OneKpi {...{ kpis }} label="Across" value={x} onChange={(slug) => ask({ x: slug })} />
        <OneKpi {...{ kpis }} label="Up" value={y} onChange={(slug) => ask({ y: slug })} />
        {pair.data && pair.data.grains.length > 1 && (
          <Select
            size="xs"
            w={110}
            label="By"
            data={pair.data.grains}
            value={pair.data.grain}
            allowDeselect={false}
            onChange={(grain) => ask({ by: grain })}
          />
        )}
      </Asked>
      <State query={pair} nothing={x && y ? null : 'Choose two KPIs to hold against each other.'} />
      {pair.data && !pair.error && (
        <PairView
          data={pair.data}
          asTheyAre={asTheyAre}
          onLag={(next) => ask({ lag: next ? String(next) : null })}
          onAsTheyAre={(as) => ask({ as: as ? 'they-are' : null })}
        />
      )}
    </>
  )
}
