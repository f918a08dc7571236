import { lazy, Suspense, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import type { KpiPath } from '../api/keys.ts'
import { ChartView } from '../chart/ChartView.tsx'
import { NARROW } from '../chart/model/geometry.ts'
import type { LineName } from '../chart/model/tags.ts'
import type { Chart } from '../chart/model/types.ts'
import { useBegun } from '../improvements/begun.ts'
import { levelText } from '../shared/numbers.ts'
import classes from './ChartPage.module.css'
import { useLane, useReach, useStates } from './data/context.ts'
import { useChartSession } from './session/ChartSession.tsx'
import { heldSegment, heldSpan } from './session/drafts/held.ts'
import { changedSpan } from './session/drafts/trial.ts'
import { useChartKeys } from './session/useChartKeys.ts'
import { useShiftHandles } from './session/useShiftHandles.ts'
import { useShown } from './session/useShown.ts'

// What comes when it is asked for.
const OpenCard = lazy(async () => ({ default: (await import('./cards/OpenCard.tsx')).OpenCard }))
const OverviewStrip = lazy(async () => ({
  default: (await import('./OverviewStrip.tsx')).OverviewStrip,
}))
const NONE: readonly { first: string; last: string }[] = []

/** The chart itself, with what is in the hand on it and the card that is open over it. */
export function Stage() {
  const { path, look, state, dispatch, saved, base, held, previewing, whole, acts, svg } =
    useChartSession()
  const { shown, chart: drawn } = useShown()
  const handles = useShiftHandles()
  const onKey = useChartKeys()
  const [first, last] = daysOf(saved.points.period)
  const world = useStates(path, look.view, state.world)
  const lane = useLane(path, first, last, look.view)
  const begun = useBegun(path)
  const navigate = useNavigate()
  const number = held?.kind === 'shift' && previewing ? heldSegment(base, drawn) : -1
  const span = held && previewing ? heldSpan(base, drawn, held) : null
  const [pulled, setPulled] = useState<{ line: LineName; level: number } | null>(null)
  const [axis, setAxis] = useState<{ low?: number; high?: number } | null>(null)
  const [brought, setBrought] = useState<string[]>([])
  // Where it was pulled to it stays, while its card asks whether to keep it.
  const card = state.mode.kind === 'card' ? state.mode.card : null
  const target =
    pulled?.line === 'target'
      ? pulled.level
      : card?.kind === 'target'
        ? (card.target ?? null)
        : null
  const shownChart = useMemo(() => {
    const pulledTo = axis ? { ...drawn, axis: { ...drawn.axis, ...axis } } : drawn
    if (target !== null) return { ...pulledTo, target_now: target, targets: null }
    return pulled ? pulledLine(pulledTo, pulled.line, pulled.level) : pulledTo
  }, [drawn, target, pulled, axis])
  const tried = state.trial && !state.real ? changedSpan(saved, base) : null
  return (
    <>
      <ChartView
        home
        chart={shownChart}
        shown={shown}
        height={useHeight()}
        previewed={span ?? tried}
        kept={previewing ? base : drawn === saved ? null : saved}
        moving={number > 0 ? number : null}
        selected={held ? null : state.selected}
        lit={state.lit}
        onHover={(position) => dispatch({ type: 'hover', position })}
        pins={lane.data ?? []}
        onOpenPin={(pin, at) => {
          const [only] = pin.events
          dispatch({
            type: 'open',
            card:
              pin.count === 1 && only
                ? { kind: 'event', draft: only, ...at }
                : { kind: 'pin', pin, ...at },
          })
        }}
        onMovePin={acts.moveEvent}
        begun={begun}
        onOpenBegun={() => navigate(`/${path.workspace}/improvements`)}
        candidates={saved.candidates}
        onOpenCandidate={(candidate, at) =>
          dispatch({ type: 'open', card: { kind: 'candidate', candidate, ...at } })
        }
        baseline={useBaseline() ?? null}
        onSelect={(position) => dispatch({ type: 'select', position })}
        onKey={onKey}
        onPlaceAt={acts.placeShift}
        stripes={state.world === null ? NONE : (world.data?.compared?.spans ?? NONE)}
        spans={state.spans}
        split={state.split}
        onSplit={acts.splitAt}
        onSelectSpan={acts.selectSpan}
        onZoom={(factor, around) => look.zoom(drawn, factor, around)}
        onOpenSegment={(at, point) => {
          if (whole) dispatch({ type: 'open', card: { kind: 'segment', number: at, ...point } })
        }}
        onOpenLine={(line, point) =>
          line.startsWith('line ')
            ? acts.openLine(line.slice(5), point)
            : dispatch({
                type: 'open',
                card:
                  line === 'target'
                    ? { kind: 'target', ...point }
                    : { kind: 'segment', number: drawn.segments.length - 1, line, ...point },
              })
        }
        onAddLine={held ? null : acts.addLine}
        pull={{
          can: (line) =>
            line === 'target'
              ? whole && drawn.targets === null && drawn.target_high_now === null
              : isConstant(drawn, line),
          to: (line, level, dropped, at) => {
            setPulled(level === null ? null : { line, level })
            if (level === null || !dropped) return
            const to = roundedLike(level, drawn)
            const letGo = () => setPulled(null)
            if (line === 'target') {
              letGo()
              dispatch({ type: 'open', card: { kind: 'target', target: to, ...at } })
            } else acts.changeLine(line.slice(5), { number: to }, letGo)
          },
        }}
        brought={brought}
        onBring={(key) => setBrought([...brought, key])}
        axis={{
          onOpen: (at) => dispatch({ type: 'open', card: { kind: 'axis', ...at } }),
          onPull: (end, level, dropped) => {
            setAxis(level === null ? null : { [end]: level })
            if (level === null || !dropped) return
            const to = roundedLike(level, drawn)
            acts.fixAxis(end, to, () => setAxis(null))
          },
        }}
        handles={whole ? handles : null}
        svgRef={svg}
      >
        {card && (
          <Suspense>
            <OpenCard />
          </Suspense>
        )}
        {pulled?.line === 'target' && (
          <Reach path={path} target={roundedLike(pulled.level, drawn)} />
        )}
      </ChartView>
      {look.stretch && (
        <Suspense>
          <OverviewStrip chart={saved} stretch={look.stretch} onChange={look.setStretch} />
        </Suspense>
      )}
    </>
  )
}

/** Whether a line is a level of one's own, which moves as it is pulled. */
function isConstant({ lines }: Chart, name: LineName): boolean {
  const line = lines.find(({ key }) => name === `line ${key}`)
  return line?.made === 'constant' && line.factor === 1 && line.amount === 0
}

/** A chart with one of its lines at another level, before it is kept there. */
function pulledLine(chart: Chart, name: LineName, level: number): Chart {
  const text = levelText(level, chart.kpi.numbers)
  const lines = chart.lines.map((line) =>
    name === `line ${line.key}` ? { ...line, level, text } : line,
  )
  return { ...chart, lines }
}

/** A level that is pulled to, with as many digits as the values of the chart are shown with. */
function roundedLike(level: number, { kpi }: Chart): number {
  const { power, decimals } = kpi.numbers
  return Number(`${(level / 10 ** power).toFixed(decimals)}e${power}`)
}

/** What a target that is pulled would take. */
function Reach({ path, target }: { path: KpiPath; target: number }) {
  const reach = useReach(path, target)
  return (
    <p className={`card ${classes.reach}`} role="status">
      {reach.data?.text ?? ''}
    </p>
  )
}

/** Pixels that stand above the chart: its name, its sentence, its chips. */
const ABOVE = 326
const BAR = 58
const [LEAST, MOST, ON_A_PHONE] = [420, 640, 450]

/** The height of the chart: what the window has, less what stands above it. */
function useHeight(): number {
  const { look, state, held } = useChartSession()
  if (look.viewport.width < NARROW) return ON_A_PHONE
  const height = Math.max(LEAST, Math.min(MOST, look.viewport.height - ABOVE))
  const moved = held?.kind === 'shift' && held.draft.from !== null && !held.dragging
  const barred = moved || held?.kind === 'aside' || held?.kind === 'baseline' || state.trial
  return barred ? height - BAR : height
}

/** The baseline in the hand, and what it has to stay within. */
function useBaseline() {
  const { base, held, dispatch } = useChartSession()
  if (held?.kind !== 'baseline') return null
  const { draft } = held
  const segment = base.segments.find((segment) => segment.start === draft.start)
  return (
    segment && {
      window: draft,
      bounds: { first: segment.first, last: segment.stop - 1 },
      onChange: ({ first, last }: { first: number; last: number }, dragging: boolean) =>
        dispatch({ type: 'edit baseline', window: { first, last }, dragging }),
    }
  )
}

/** The first and the last day that a chart shows. */
function daysOf(periods: string[]): [string, string] {
  return [periods[0]?.slice(0, 10) ?? '', periods.at(-1)?.slice(0, 10) ?? '']
}
