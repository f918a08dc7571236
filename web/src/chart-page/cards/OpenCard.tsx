import { lazy, Suspense, useEffect, useRef } from 'react'
import { useChartSession } from '../session/ChartSession.tsx'
import type { Card } from '../session/mode.ts'
import { ChartCard } from './ChartCard.tsx'
import { CandidateCard, PinCard } from './PinCard.tsx'

// Each comes when the first of its kind is opened.
const EventCard = lazy(async () => ({ default: (await import('./EventCard.tsx')).EventCard }))
const SegmentCard = lazy(async () => ({ default: (await import('./SegmentCard.tsx')).SegmentCard }))
const LineCard = lazy(async () => ({ default: (await import('./LineCard.tsx')).LineCard }))
const BandCard = lazy(async () => ({ default: (await import('./BandCard.tsx')).BandCard }))
const AxisCard = lazy(async () => ({ default: (await import('./AxisCard.tsx')).AxisCard }))
const TargetCard = lazy(async () => ({ default: (await import('./TargetCard.tsx')).TargetCard }))
const ValueCard = lazy(async () => ({ default: (await import('./ValueCard.tsx')).ValueCard }))

const NAMES: Record<Card['kind'], string> = {
  segment: 'Segment',
  target: 'Target',
  event: 'Event',
  pin: 'Events',
  candidate: 'Candidate',
  value: 'Value',
  line: 'Line',
  band: 'Band',
  axis: 'How values are drawn',
}

/** Cards that open beside their place, so that what they change is seen. */
const NEXT_TO_THE_CHART: Partial<Record<Card['kind'], true>> = {
  target: true,
  line: true,
  band: true,
  axis: true,
}

/** From this place on, in pixels, a card about a point stands to its left. */
const LEFT_FROM = 480

/** Where a card stands: beside the line or the point that it is about, and not over it. */
function sideOf({ kind, x }: Card): 'left' | 'right' | 'top' {
  if (kind in NEXT_TO_THE_CHART) return x < 200 ? 'right' : 'left'
  if (kind === 'segment') return 'top'
  return x < LEFT_FROM ? 'right' : 'left'
}

/** The card that is open over the chart: a segment, the target, an event, a candidate. */
export function OpenCard() {
  const { state, dispatch } = useChartSession()
  if (state.mode.kind !== 'card') return null
  const { card } = state.mode
  return (
    <ChartCard
      label={NAMES[card.kind]}
      at={card}
      position={sideOf(card)}
      onClose={() => dispatch({ type: 'close' })}
    >
      <Suspense>
        <Content card={card} />
        <TakesFocus />
      </Suspense>
    </ChartCard>
  )
}

/** Takes the focus into a card once what is in it has come. */
function TakesFocus() {
  const mark = useRef<HTMLSpanElement>(null)
  useEffect(() => {
    const card = mark.current?.closest('[role="dialog"]')
    if (!card || card.contains(document.activeElement)) return
    const wanted = '[data-autofocus], input:not([type=hidden]), select, textarea, button, [href]'
    card.querySelector<HTMLElement>(wanted)?.focus({ preventScroll: true })
  }, [])
  return <span ref={mark} hidden />
}

function Content({ card }: { card: Card }) {
  const { path, base, drawn, held, previewing, whole, acts, dispatch } = useChartSession()
  switch (card.kind) {
    case 'segment': {
      const start = base.segments[card.number]?.start ?? null
      return (
        <SegmentCard
          key={`${start} ${base.kpi.revision}`}
          chart={base}
          path={path}
          fixed={!whole}
          saving={acts.saving}
          number={card.number}
          onSave={(changes) => acts.changeSegment(start, changes)}
          onRemove={() => acts.removeShift(start)}
          onBaseline={() => acts.chooseBaseline(card.number)}
        />
      )
    }
    case 'target':
      return (
        <TargetCard
          path={path}
          kpi={base.kpi}
          steps={base.target_steps}
          proposed={card.target}
          saving={acts.saving}
          onSave={acts.setTarget}
        />
      )
    case 'line': {
      if (held?.kind !== 'line') return null
      const { draft, added } = held
      const line = (previewing ? drawn : base).lines.find(({ key }) => key === draft.key)
      return (
        <LineCard
          {...{ chart: base, draft, added }}
          preview={line ?? null}
          saving={acts.saving}
          onChange={(draft) => dispatch({ type: 'edit line', draft })}
          onSave={() => acts.keepLine(draft)}
          onRemove={() => acts.removeLine(draft.key)}
          onHide={() => acts.keepLine({ ...draft, hidden: !draft.hidden })}
          onMove={(by) => acts.moveLine(draft.key, by)}
        />
      )
    }
    case 'band':
      return (
        <BandCard
          chart={base}
          draft={card.draft}
          added={card.added}
          saving={acts.saving}
          onSave={acts.keepBand}
          onRemove={() => acts.removeBand(card.draft.key)}
        />
      )
    case 'axis':
      return (
        <AxisCard
          chart={base}
          saving={acts.saving}
          onSave={(changes) => acts.changeDetails(changes, () => dispatch({ type: 'close' }))}
        />
      )
    case 'event':
      return (
        <EventCard
          key={card.draft.id}
          workspace={path.workspace}
          draft={card.draft}
          saving={acts.savingEvent}
          onSave={acts.saveEvent}
          onRemove={() => acts.removeEvent(card.draft)}
          onCompare={() => dispatch({ type: 'compare state', title: card.draft.title })}
        />
      )
    case 'pin':
      return (
        <PinCard
          pin={card.pin}
          onChoose={(draft) =>
            dispatch({ type: 'open', card: { kind: 'event', draft, x: card.x, y: card.y } })
          }
        />
      )
    case 'candidate':
      return (
        <CandidateCard
          text={card.candidate.text}
          saving={acts.saving}
          onReview={() => acts.placeShift(card.candidate.position)}
          onDismiss={(reason) => acts.keepLimits(card.candidate.period, reason)}
        />
      )
    case 'value':
      return (
        <ValueCard
          chart={base}
          position={card.position}
          onTry={(value) => {
            const { period, position } = base.points
            const at = period[position.indexOf(card.position)]
            if (at) acts.tryValue(at, value)
          }}
        />
      )
  }
}
