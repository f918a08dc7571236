import { lazy, Suspense, useEffect, useMemo, useRef } from 'react'
import { useDrawing } from '../../chart/drawing.ts'
import { useChartSession } from '../session/ChartSession.tsx'
import type { Card } from '../session/mode.ts'
import { ChartCard } from './ChartCard.tsx'
import { CandidateCard, PinCard } from './PinCard.tsx'
import { aboutOf, pointsOf } from './placement.ts'

// Each comes when the first of its kind is opened.
const EventCard = lazy(async () => ({ default: (await import('./EventCard.tsx')).EventCard }))
const SegmentCard = lazy(async () => ({ default: (await import('./SegmentCard.tsx')).SegmentCard }))
const LineCard = lazy(async () => ({ default: (await import('./LineCard.tsx')).LineCard }))
const BandCard = lazy(async () => ({ default: (await import('./BandCard.tsx')).BandCard }))
const AxisCard = lazy(async () => ({ default: (await import('./AxisCard.tsx')).AxisCard }))
const RulesCard = lazy(async () => ({ default: (await import('./RulesCard.tsx')).RulesCard }))
const CalendarCard = lazy(async () => ({
  default: (await import('./CalendarCard.tsx')).CalendarCard,
}))
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
  rules: 'Rules',
  calendar: 'Calendar',
}

/** The card that is open over the chart: a segment, the target, an event, a candidate. */
export function OpenCard() {
  const { state, dispatch, drawn, held } = useChartSession()
  const geometry = useDrawing()
  const card = state.mode.kind === 'card' ? state.mode.card : null
  const key = held?.kind === 'line' ? held.draft.key : ''
  const about = useMemo(
    () => (card && geometry ? aboutOf(card, drawn, geometry, key) : []),
    [card, drawn, geometry, key],
  )
  const points = useMemo(() => (geometry ? pointsOf(drawn, geometry) : []), [drawn, geometry])
  if (!card) return null
  return (
    <ChartCard
      label={NAMES[card.kind]}
      at={card}
      about={about}
      points={points}
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
      return <AxisCard />
    case 'rules':
      return <RulesCard />
    case 'calendar':
      return <CalendarCard />
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
