import { Modal, Skeleton } from '@mantine/core'
import { useDisclosure, useHotkeys, useLocalStorage, useViewportSize } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { type KeyboardEvent, useEffect, useRef, useState } from 'react'
import { useNavigate, useParams, useSearchParams } from 'react-router'
import { Problem } from '../api/client.ts'
import { ChartView } from '../chart/ChartView.tsx'
import type { Pin } from '../chart/layers/Story.tsx'
import { NARROW } from '../chart/model/geometry.ts'
import type { Grain, Shown } from '../chart/model/types.ts'
import { walk } from '../chart/model/walk.ts'
import { FindingPanel } from '../findings/FindingPanel.tsx'
import { useKpis } from '../shared/kpis.ts'
import { Notice } from '../shared/Notice.tsx'
import { notifyProblem } from '../shared/notifications.tsx'
import { periodInText } from '../shared/writing.ts'
import { NextValue } from '../values/NextValue.tsx'
import type { AsideDraft } from './bars/AsideBar.tsx'
import { Bars } from './bars/Bars.tsx'
import { windowOf } from './bars/BaselineBar.tsx'
import { Findings } from './below/FindingCards.tsx'
import { PointActs } from './below/PointActs.tsx'
import { PointsTable } from './below/PointsTable.tsx'
import classes from './ChartPage.module.css'
import { type Card, OpenCard } from './cards/OpenCard.tsx'
import { Chips } from './head/Chips.tsx'
import { boundsOf, Dates, type Stretch } from './head/Dates.tsx'
import { ExportMenu } from './head/ExportMenu.tsx'
import { KpiDetails } from './head/KpiDetails.tsx'
import { PageHead } from './head/PageHead.tsx'
import { ShiftReview } from './review/ShiftReview.tsx'
import {
  type Intent,
  type SavedChart,
  type SegmentSettings,
  settle,
  useChart,
  useChartActs,
  useLane,
  usePreview,
  type View,
} from './session/chart.ts'
import { type EventDraft, eventAt, movedBy } from './session/eventDraft.ts'
import { useInHand } from './session/inHand.ts'
import { changing, keepingLimits, removingShift, shifting } from './session/intents.ts'
import { type Draft, segmentsWith } from './session/shift.ts'
import { changedSpan, previewOf, useTrial } from './session/trial.ts'

const TAKEN = 'There is a shift at this point already. Choose another point.'

/** From this width on, what is decided on a chart stands beside it; below, under it. */
const BESIDE = 1000

const say = (message: string) => notifications.show({ message })

export function ChartPage() {
  const { workspace = '', kpi = '' } = useParams()
  // A page of its own for each KPI: nothing chosen on one carries over to the next.
  return <KpiChart key={`${workspace} ${kpi}`} workspace={workspace} kpi={kpi} />
}

function KpiChart({ workspace, kpi }: { workspace: string; kpi: string }) {
  const place = { workspace, kpi }
  const kpis = useKpis(workspace)
  const row = kpis.data?.find((one) => one.slug === kpi)
  const navigate = useNavigate()
  const viewport = useViewportSize()
  const [stretch, setStretch] = useState<Stretch | null>(null)
  // Rounded, so that a scrollbar that comes and goes asks for nothing new.
  const width = Math.max(300, Math.round((viewport.width || 1280) / 100) * 100)
  const [asked, setAsked] = useSearchParams()
  const by = asked.get('by') as Grain | null
  const breakdown = asked.get('of')
  const opened = Number(asked.get('finding')) || null
  const view: View = {
    width,
    ...(stretch ? boundsOf(stretch) : {}),
    ...(by ? { by } : {}),
    ...(breakdown ? { breakdown } : {}),
  }
  const chart = useChart(place, view)
  const saved = chart.data
  const acts = useChartActs(place, view)
  const trial = useTrial()
  const [real, setReal] = useState(false)
  const trying = usePreview(place, view, trial.now && trial.changed ? previewOf(trial.now) : null)
  // What acts are done on: the chart as it is kept, or as it is tried.
  const base = (trial.now && trial.changed && trying.data) || saved
  const resting = real ? saved : base
  const hand = useInHand(place, view, { base, resting, trial, keepShift })
  const { shift, aside, setAside, baseline, setBaseline, previewing } = hand
  const { draft } = shift
  const [selected, setSelected] = useState<number | null>(null)
  const [hovered, setHovered] = useState<number | null>(null)
  const [lit, setLit] = useState<number[]>([])
  const [card, setCard] = useState<Card | null>(null)
  const [details, detailsModal] = useDisclosure()
  const [shown, setShown] = useLocalStorage<Shown>({
    key: 'fluctus-lines',
    defaultValue: { average: true, limits: true, target: true },
  })
  const svg = useRef<SVGSVGElement>(null)
  const [firstDay, lastDay] = daysOf(saved)
  const lane = useLane(place, firstDay, lastDay, width)

  useEffect(() => {
    document.title = `${saved?.kpi.name ?? 'Chart'} · Fluctus`
  }, [saved])

  const drafting = hand.full
  const busy = Object.values(acts).some((act) => act.isPending)
  const undo = () => {
    if (trial.now) trial.undo?.()
    else if (saved?.history.undo && !busy && !drafting) acts.undo.mutate(undefined)
  }
  const redo = () => {
    if (trial.now) trial.redo?.()
    else if (saved?.history.redo && !busy && !drafting) acts.redo.mutate(undefined)
  }
  useHotkeys([
    ['mod+Z', undo],
    ['mod+shift+Z', redo],
  ])

  const closeCard = () => setCard(null)

  /** Keeps settings, or adds them to the trial where one goes on. */
  function apply(intent: Intent, { done, after }: { done?: () => void; after?: () => void } = {}) {
    if (trial.now && base) {
      try {
        const settings = settle(intent, base)
        trial.add((one) => ({ ...one, settings: { ...one.settings, ...settings } }))
        done?.()
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        notifyProblem(error)
      }
      after?.()
    } else {
      acts.change.mutate(intent, {
        onSuccess: () => done?.(),
        // A refused draft goes back to where it was; the notice has said why.
        onSettled: () => after?.(),
      })
    }
  }

  function keepShift(kept: Draft) {
    if (!base || acts.change.isPending) return
    if (!segmentsWith(base, kept)) {
      shift.setDraft(null)
      say(TAKEN)
      return
    }
    apply(shifting(kept), {
      done: () =>
        !trial.now && say(`Limits recalculated from ${periodInText(kept.period, base.kpi.grain)}.`),
      after: () => shift.setDraft(null),
    })
  }

  if (chart.isPending) return <Loading name={row?.name} />
  if (chart.error || !saved || !base || !hand.drawn)
    return <Notice error={chart.error} retry={chart.refetch} />

  const { drawn } = hand
  const narrow = viewport.width < NARROW
  const beside = viewport.width >= BESIDE
  const height = narrow ? 450 : Math.max(420, Math.min(640, viewport.height - 326))
  const newest = row?.latest_period?.slice(0, 10) ?? ''
  // Shifts are put where the values are stored; another grain, or a part, only shows them.
  const whole = !breakdown && saved.kpi.grain === saved.kpi.stored_grain
  const barred = (draft?.from != null && !shift.dragging) || aside || baseline || trial.now
  const panel = opened !== null && !drafting && !trial.now

  /** Shows another grain or breakdown; what was chosen on this one holds no longer. */
  function look(changes: { by?: string | null; of?: string | null }) {
    // What is tried is tried on the whole, at its own grain.
    if (trial.now) {
      say('Keep the trial or discard it first.')
      return
    }
    const next = new URLSearchParams(asked)
    for (const [name, value] of Object.entries(changes)) {
      if (value) next.set(name, value)
      else next.delete(name)
    }
    setStretch(null)
    setSelected(null)
    setCard(null)
    setAsked(next, { replace: true })
  }

  function openFinding(id: number | null) {
    const next = new URLSearchParams(asked)
    if (id === null) next.delete('finding')
    else next.set('finding', String(id))
    setAsked(next, { replace: true })
  }

  function changeSegment(
    start: string | null,
    changes: Partial<SegmentSettings>,
    after?: () => void,
  ) {
    apply(changing(start, changes), { done: closeCard, ...(after ? { after } : {}) })
  }

  function removeShift(start: string | null | undefined) {
    apply(removingShift(start), { done: closeCard })
  }

  function placeAt(position: number) {
    if (!whole) {
      say(`Shifts are put on the whole by ${saved?.kpi.stored_grain}. Show that first.`)
    } else if (shift.begin(position)) {
      setCard(null)
      setBaseline(null)
    } else {
      say(
        position === 0
          ? 'The first value has nothing before it to shift from. Choose a later point.'
          : TAKEN,
      )
    }
  }

  /** Records that a process has not shifted, and why; the limits stay as they are. */
  function keepLimits(period: string, reason: string, review: Draft['review'] = {}) {
    apply(keepingLimits(period, reason, review), {
      done: closeCard,
      after: () => shift.setDraft(null),
    })
  }

  /** Takes up a review again that ended with the limits kept. */
  function reopen(kept: SavedChart['kept_limits'][number]) {
    const index = base?.points.period.indexOf(kept.period) ?? -1
    const position = base?.points.position[index]
    const { reason, review = {} } = kept
    if (position === undefined && stretch) say('Show all dates first: this period is not in them.')
    else if (position === undefined || !shift.begin(position, { what_changed: reason, review }))
      say('There is no room for a shift at this period any more.')
  }

  /** Asks to set a point aside, or to put it back where it is aside. */
  function takeAside(position: number) {
    const period = base?.points.period[base.points.position.indexOf(position)]
    if (!base || !period) return
    if (base.kpi.grain !== base.kpi.stored_grain) {
      say(`Points are set aside by ${base.kpi.stored_grain}. Show that first.`)
      return
    }
    const back = base.set_aside.some((one) => one.position === position)
    setCard(null)
    setAside({ position, period, back, reason: '' })
  }

  function keepAside(kept: AsideDraft) {
    const reason = kept.back ? null : kept.reason.trim()
    if (trial.now) {
      trial.add((one) => ({ ...one, aside: { ...one.aside, [kept.period]: reason } }))
      setAside(null)
    } else {
      acts.aside.mutate(
        { period: kept.period, breakdown, reason },
        { onSettled: () => setAside(null) },
      )
    }
  }

  /** Begins to choose a baseline for a segment, from the one it has or all of it. */
  function chooseBaseline(at: number) {
    const segment = base?.segments[at]
    if (!segment?.basis) return
    setCard(null)
    const { first, last } = segment.basis
    setBaseline({ start: segment.start, first, last, now: segment.basis })
  }

  function addEvent(position: number, at: { x: number; y: number }) {
    const period = saved?.points.period[saved.points.position.indexOf(position)] ?? ''
    setCard({ kind: 'event', draft: eventAt(period, kpi), ...at })
  }

  function saveEvent({ id, version, ...event }: EventDraft) {
    const close = { onSuccess: closeCard }
    if (id === null) acts.addEvent.mutate(event, close)
    else acts.changeEvent.mutate({ event: { id, version, ...event }, changes: event }, close)
  }

  function moveEvent(pin: Pin, days: number) {
    const [event] = pin.events
    if (event) acts.changeEvent.mutate({ event, changes: movedBy(event, days) })
  }

  const belowChart = (position: number) => {
    const index = saved.points.position.indexOf(position)
    const share = index / Math.max(1, saved.points.position.length - 1)
    const box = svg.current?.getBoundingClientRect()
    return { x: 44 + share * ((box?.width ?? 800) - 168), y: height * 0.68 }
  }

  function onKey(event: KeyboardEvent<HTMLDivElement>) {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const next = walk(drawn, selected, event.key)
    const key = event.key.toLowerCase()
    const act = { r: placeAt, x: takeAside }[key]
    if (next !== undefined) {
      event.preventDefault()
      setSelected(next)
    } else if (act && selected !== null) {
      event.preventDefault()
      act(selected)
    } else if (key === 'e' && !trial.now) {
      // Without a point that is chosen, at the newest one.
      const at = selected ?? saved?.points.position.at(-1)
      if (at === undefined) return
      event.preventDefault()
      addEvent(at, belowChart(at))
    }
  }

  const side =
    draft && draft.from === null ? (
      <ShiftReview
        saved={base}
        preview={previewing ? drawn : null}
        candidate={base.candidates.find((one) => one.position === draft.position)}
        number={hand.number}
        draft={draft}
        saving={acts.change.isPending}
        onChange={shift.setDraft}
        onDate={shift.moveTo}
        onKeep={() => keepShift(draft)}
        onKeepLimits={(reason) => keepLimits(draft.period, reason, draft.review)}
        onCancel={() => shift.setDraft(null)}
      />
    ) : panel ? (
      <aside className={`card ${classes.review}`} aria-label="Finding">
        <FindingPanel
          key={opened}
          workspace={workspace}
          number={opened}
          onClose={() => openFinding(null)}
        />
      </aside>
    ) : null

  const lastStart = base.segments.at(-1)?.start ?? null
  const baselineOf = baseline && base.segments.find((one) => one.start === baseline.start)
  return (
    <>
      <PageHead
        chart={drawn}
        base={`/${workspace}/charts/${kpi}`}
        undo={{
          does: trial.now ? (trial.undo ? 'the last thing tried' : null) : saved.history.undo,
          act: undo,
        }}
        redo={{
          does: trial.now ? (trial.redo ? 'what was tried' : null) : saved.history.redo,
          act: redo,
        }}
        onDetails={detailsModal.open}
        onTry={trial.now || drafting || !whole ? null : trial.begin}
        exporting={<ExportMenu place={place} view={view} chart={drawn} svg={svg} />}
      />
      <div className={classes.sentence} aria-live="polite">
        <p className={classes.headline}>{drawn.sentence.headline}</p>
        <p className={classes.detail}>{drawn.sentence.detail}</p>
      </div>
      <div className={classes.chips}>
        <Chips
          chart={drawn}
          shown={shown}
          onChange={setShown}
          onAddTarget={() => setCard({ kind: 'target', x: 300, y: 20 })}
        />
        <Dates
          chart={saved}
          newest={newest}
          stretch={stretch}
          onChange={setStretch}
          onBy={(one) => look({ by: one === saved.kpi.stored_grain ? null : one })}
          onBreakdown={(one) => look({ of: one })}
          breakdown={breakdown}
        />
      </div>
      {drawn.remarks.map((remark) => (
        <p key={remark} className={classes.remark}>
          {remark}
        </p>
      ))}
      <Bars
        {...{ saved, base, drawn, previewing, trial, real, acts, shift, aside, baseline }}
        error={(drafting || trial.now) && (hand.error ?? trying.error)}
        onReal={setReal}
        onAside={setAside}
        onKeepShift={keepShift}
        onKeepAside={keepAside}
        onKeepBaseline={(kept) =>
          changeSegment(kept.start, { window: windowOf(base, kept) }, () => setBaseline(null))
        }
        onDrop={hand.drop}
      />
      <div className={classes.stage}>
        <div>
          <ChartView
            chart={drawn}
            shown={shown}
            height={barred && !narrow ? height - 58 : height}
            previewed={hand.span ?? (trial.now && !real ? changedSpan(saved, base) : null)}
            kept={previewing ? base : drawn === saved ? null : saved}
            moving={draft && hand.number > 0 ? hand.number : null}
            selected={drafting ? null : selected}
            lit={lit}
            onHover={setHovered}
            pins={lane.data ?? []}
            onOpenPin={(pin, at) => {
              const [only] = pin.events
              setCard(
                pin.count === 1 && only
                  ? { kind: 'event', draft: only, ...at }
                  : { kind: 'pin', pin, ...at },
              )
            }}
            onMovePin={moveEvent}
            candidates={saved.candidates}
            onOpenCandidate={(candidate, at) => setCard({ kind: 'candidate', candidate, ...at })}
            baseline={
              baseline && baselineOf
                ? {
                    window: baseline,
                    bounds: { first: baselineOf.first, last: baselineOf.stop - 1 },
                    onChange: (window) => setBaseline({ ...baseline, ...window }),
                  }
                : null
            }
            onSelect={setSelected}
            onKey={onKey}
            onPlaceAt={placeAt}
            onOpenSegment={(at, point) =>
              whole && setCard({ kind: 'segment', number: at, ...point })
            }
            onOpenLine={(line, point) =>
              setCard(
                line === 'target'
                  ? { kind: 'target', ...point }
                  : { kind: 'segment', number: drawn.segments.length - 1, ...point },
              )
            }
            {...(whole
              ? {
                  onHandleDown: shift.onHandleDown,
                  onHandleKey: (at, event) =>
                    shift.onHandleKey(at, event, () => removeShift(base.segments[at]?.start)),
                }
              : {})}
            svgRef={svg}
          >
            {card && !draft && (
              <OpenCard
                card={card}
                place={place}
                chart={base}
                fixed={!whole}
                saving={busy}
                onOpen={setCard}
                onSegment={changeSegment}
                onRemoveShift={removeShift}
                onBaseline={chooseBaseline}
                onTarget={(target) => apply({ target }, { done: closeCard })}
                onEvent={saveEvent}
                onRemoveEvent={({ id, ...event }) =>
                  id !== null && acts.removeEvent.mutate({ id, ...event }, { onSuccess: closeCard })
                }
                onReview={placeAt}
                onDismiss={keepLimits}
                onValue={(period, value) => {
                  trial.add((one) => ({ ...one, values: { ...one.values, [period]: value } }))
                  closeCard()
                }}
              />
            )}
          </ChartView>
          {!beside && side}
          {!drafting &&
            !trial.now &&
            saved.next &&
            (saved.kpi.breakdowns.length === 0 || breakdown) && (
              <NextValue place={place} chart={saved} breakdown={breakdown} />
            )}
          {selected !== null && !drafting && (
            <PointActs
              aside={base.set_aside.some((one) => one.position === selected)}
              onShift={() => placeAt(selected)}
              onAside={() => takeAside(selected)}
              onEvent={trial.now ? null : () => addEvent(selected, belowChart(selected))}
              onValue={
                trial.now
                  ? () => setCard({ kind: 'value', position: selected, ...belowChart(selected) })
                  : null
              }
            />
          )}
          <Findings
            place={place}
            chart={drawn}
            saved={whole && !trial.now && !drafting}
            at={hovered ?? selected}
            opened={opened}
            onLight={setLit}
            onOpen={openFinding}
            onReopen={reopen}
            onFirm={(start) => changeSegment(start, { window: null })}
            onFollow={(follows) => changeSegment(lastStart, { follows })}
            onMedian={() => changeSegment(lastStart, { spread: 'median_range' })}
            onSelect={(position) => {
              setSelected(position)
              svg.current?.scrollIntoView({ block: 'nearest' })
            }}
          />
          <PointsTable chart={drawn} />
        </div>
        {beside && side}
      </div>
      <Modal
        opened={details}
        onClose={detailsModal.close}
        title="Details"
        size="lg"
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        <KpiDetails
          place={place}
          kpi={base.kpi}
          saving={acts.change.isPending}
          error={acts.change.error}
          onSave={(changes) => apply(changes, { done: detailsModal.close })}
          deleting={acts.remove.isPending}
          deleteError={acts.remove.error}
          onDelete={(name) =>
            acts.remove.mutate(
              { name, revision: saved.kpi.revision },
              { onSuccess: () => navigate(`/${workspace}`) },
            )
          }
        />
      </Modal>
    </>
  )
}

/** The first and the last day that a chart shows. */
function daysOf(chart: { points: { period: string[] } } | undefined): [string, string] {
  const { period = [] } = chart?.points ?? {}
  return [period[0]?.slice(0, 10) ?? '', period.at(-1)?.slice(0, 10) ?? '']
}

function Loading({ name }: { name: string | undefined }) {
  return (
    <div role="status" aria-busy="true" aria-label="Loading the chart">
      <header className={classes.head}>
        <h1>{name ?? 'Loading…'}</h1>
      </header>
      <Skeleton height={18} mt={14} w="60%" />
      <Skeleton height={14} mt={8} w="45%" />
      <Skeleton height={420} mt={24} />
    </div>
  )
}
