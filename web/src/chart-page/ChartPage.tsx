import { useHotkeys } from '@mantine/hooks'
import { lazy, Suspense, useEffect, useReducer, useRef } from 'react'
import { useNavigationType, useParams } from 'react-router'
import { Problem } from '../api/client.ts'
import { positionOf } from '../chart/model/positions.ts'
import { Afterwards } from '../shared/Afterwards.tsx'
import { useInHand } from '../shared/inHand.ts'
import { useKpis } from '../shared/kpis.ts'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { Bars } from './bars/Bars.tsx'
import { Below } from './below/Below.tsx'
import classes from './ChartPage.module.css'
import { useChartActs } from './data/acts.ts'
import { type KpiPath, type SavedChart, useChart } from './data/chart.ts'
import { type Previewed, usePreview } from './data/preview.ts'
import { Head } from './head/Head.tsx'
import { Loading } from './head/Loading.tsx'
import { Side } from './review/Side.tsx'
import { Stage } from './Stage.tsx'
import { actsOn } from './session/acts.ts'
import { ChartSessionProvider } from './session/ChartSession.tsx'
import { heldSettings } from './session/drafts/held.ts'
import { canUndo, previewOf, type Trial, triedNow } from './session/drafts/trial.ts'
import { atRest, heldIn, session } from './session/mode.ts'
import { useEscape } from './session/useEscape.ts'
import { useLook } from './session/useLook.ts'

// For who has made the first chart of a workspace.
const Hints = lazy(async () => ({ default: (await import('./Hints.tsx')).Hints }))

/** From this width on, what is decided on a chart stands beside it; below, under it. */
const WIDE_ENOUGH = 1000

export function ChartPage() {
  const { workspace = '', kpi = '' } = useParams()
  // A page of its own for each KPI: nothing chosen on one carries over to the next.
  return <KpiChart key={`${workspace} ${kpi}`} path={{ workspace, kpi }} />
}

function KpiChart({ path }: { path: KpiPath }) {
  const kpis = useKpis(path.workspace).data
  const name = kpis?.find((kpi) => kpi.slug === path.kpi)?.name
  const look = useLook()
  const chart = useChart(path, look.view)
  const saved = chart.data
  const [state, dispatch] = useReducer(session, atRest)
  const { trial } = state
  const held = heldIn(state)
  const tried = trial && canUndo(trial) ? triedNow(trial) : null
  const onTrial = trialOn(saved, trial)
  const ofTrial = usePreview(path, look.view, tried && onTrial.preview({}))
  const base = (tried && ofTrial.data) || saved
  const settings = base ? heldSettings(base, held) : null
  const dragging = held !== null && 'dragging' in held && held.dragging
  const ofHeld = usePreview(
    path,
    look.view,
    settings && trial ? onTrial.preview(settings) : settings,
    dragging ? base : null,
  )
  // What was previewed last is no preview of a point, or a baseline, that has just been chosen.
  const fresh = held?.kind === 'shift' || !ofHeld.isPlaceholderData
  const previewed = settings && fresh ? ofHeld.data : undefined
  const drawn = previewed ?? (state.real ? saved : base)
  const whole = !look.breakdown && saved?.kpi.grain === saved?.kpi.stored_grain
  const writes = useChartActs(path, look.view)
  const may = useMay()
  const acts = actsOn({
    mayEdit: may.edit,
    mayAdd: may.add,
    kpi: path.kpi,
    view: look.view,
    ...{ saved, base, whole, state, dispatch, writes },
  })
  const svg = useRef<SVGSVGElement>(null)

  useInHand(state.mode !== atRest.mode || trial !== null)
  useEscape(held !== null, () => dispatch({ type: 'drop' }))
  useHotkeys([
    ['mod+Z', acts.undo.act],
    ['mod+shift+Z', acts.redo.act],
  ])
  useEffect(() => {
    document.title = `${saved?.kpi.name ?? 'Chart'} · Fluctus`
  }, [saved])

  const here = saved !== undefined
  const arrived = useNavigationType()
  useEffect(() => {
    // Whoever opened it from another page is on it; a page that is loaded begins at its start.
    const focus = document.activeElement
    if (here && arrived !== 'POP' && (focus === document.body || focus?.id === 'main'))
      document.querySelector<HTMLElement>('#main [data-focus-home]')?.focus({ preventScroll: true })
  }, [here, arrived])

  const { review, point } = look
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the chart is there
  useEffect(() => {
    if (!saved || point === null) return
    const position = positionOf(saved, point)
    if (position !== undefined) dispatch({ type: 'select', position })
    look.pointTaken()
  }, [here, point])

  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the chart is there
  useEffect(() => {
    if (!saved || review === null) return
    const position = positionOf(saved, review)
    if (position) acts.placeShift(position)
    look.reviewTaken()
  }, [here, review])

  if (chart.isPending) return <Loading name={name} />
  if (chart.error || !saved || !base || !drawn)
    return <Notice error={chart.error} retry={chart.refetch} />

  const beside = look.viewport.width >= WIDE_ENOUGH
  const value = {
    ...{ path, look, state, dispatch, saved, base, drawn, held, whole, acts, may, svg },
    previewing: previewed !== undefined,
    previewError: (held || trial) && (onTrial.error ?? ofHeld.error ?? ofTrial.error),
    belowPoint: (position: number) => belowPoint(saved, position, svg.current),
  }
  return (
    <ChartSessionProvider value={value}>
      <Head />
      <Bars />
      <div className={classes.stage}>
        <div>
          <Stage />
          {!beside && <Side />}
          <Afterwards>
            <Below />
            {kpis?.length === 1 && (
              <Suspense>
                <Hints />
              </Suspense>
            )}
          </Afterwards>
        </div>
        {beside && <Side />}
      </div>
    </ChartSessionProvider>
  )
}

/** A trial on the chart as it is saved by now, which others may have changed under it. */
function trialOn(saved: SavedChart | undefined, trial: Trial | null) {
  const tried = trial && triedNow(trial)
  const preview = (more: Previewed) => (saved && tried ? previewOf(tried, saved, more) : null)
  try {
    preview({})
  } catch (error) {
    if (error instanceof Problem) return { preview: () => null, error }
    throw error
  }
  return { preview, error: null }
}

/** Where a card opens that is about a point, in pixels of the chart. */
function belowPoint(
  { points }: { points: { position: number[] } },
  position: number,
  svg: SVGSVGElement | null,
) {
  const share = points.position.indexOf(position) / Math.max(1, points.position.length - 1)
  const { width = 800, height = 500 } = svg?.getBoundingClientRect() ?? {}
  return { x: 44 + share * (width - 168), y: height * 0.68 }
}
