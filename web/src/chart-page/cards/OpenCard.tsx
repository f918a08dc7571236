import type { Candidate, Pin } from '../../chart/layers/Story.tsx'
import type { Chart, Place, SegmentSettings } from '../session/chart.ts'
import type { EventDraft } from '../session/eventDraft.ts'
import { ChartCard } from './ChartCard.tsx'
import { EventCard } from './EventCard.tsx'
import { CandidateCard, PinCard } from './PinCard.tsx'
import { SegmentCard } from './SegmentCard.tsx'
import { TargetCard } from './TargetCard.tsx'
import { ValueCard } from './ValueCard.tsx'

/** What is open over the chart, and where. */
export type Card = { x: number; y: number } & (
  | { kind: 'segment'; number: number }
  | { kind: 'target' }
  | { kind: 'event'; draft: EventDraft }
  | { kind: 'pin'; pin: Pin }
  | { kind: 'candidate'; candidate: Candidate }
  | { kind: 'value'; position: number }
)

const NAMES: Record<Card['kind'], string> = {
  segment: 'Segment',
  target: 'Target',
  event: 'Event',
  pin: 'Events',
  candidate: 'Candidate',
  value: 'Value',
}

interface Props {
  card: Card
  place: Place
  /** The chart that its acts are done on. */
  chart: Chart
  /** Whether its segments only say how they were made. */
  fixed: boolean
  saving: boolean
  onOpen: (card: Card | null) => void
  onSegment: (start: string | null, changes: Partial<SegmentSettings>) => void
  onRemoveShift: (start: string | null | undefined) => void
  onBaseline: (number: number) => void
  onTarget: (target: number | null) => void
  onEvent: (draft: EventDraft) => void
  onRemoveEvent: (draft: EventDraft) => void
  onReview: (position: number) => void
  onDismiss: (period: string, reason: string) => void
  onValue: (period: string, value: number) => void
}

/** The card that is open over the chart: a segment, the target, an event, a candidate. */
export function OpenCard({ card, onOpen, ...props }: Props) {
  return (
    <ChartCard
      label={NAMES[card.kind]}
      at={card}
      position={card.kind === 'target' ? 'left' : 'top'}
      onClose={() => onOpen(null)}
    >
      <Content card={card} onOpen={onOpen} {...props} />
    </ChartCard>
  )
}

function Content({ card, place, chart, fixed, saving, onOpen, ...acts }: Props) {
  switch (card.kind) {
    case 'segment': {
      const start = chart.segments[card.number]?.start ?? null
      return (
        <SegmentCard
          key={`${start} ${chart.kpi.revision}`}
          {...{ chart, place, fixed, saving }}
          number={card.number}
          onSave={(changes) => acts.onSegment(start, changes)}
          onRemove={() => acts.onRemoveShift(start)}
          onBaseline={() => acts.onBaseline(card.number)}
        />
      )
    }
    case 'target':
      return <TargetCard kpi={chart.kpi} saving={saving} onSave={acts.onTarget} />
    case 'event':
      return (
        <EventCard
          key={card.draft.id}
          workspace={place.workspace}
          draft={card.draft}
          saving={saving}
          onSave={acts.onEvent}
          onRemove={() => acts.onRemoveEvent(card.draft)}
        />
      )
    case 'pin':
      return (
        <PinCard
          pin={card.pin}
          onChoose={(draft) => onOpen({ kind: 'event', draft, x: card.x, y: card.y })}
        />
      )
    case 'candidate':
      return (
        <CandidateCard
          text={card.candidate.text}
          saving={saving}
          onReview={() => acts.onReview(card.candidate.position)}
          onDismiss={(reason) => acts.onDismiss(card.candidate.period, reason)}
        />
      )
    case 'value':
      return (
        <ValueCard
          chart={chart}
          position={card.position}
          onTry={(value) => {
            const { period, position } = chart.points
            const at = period[position.indexOf(card.position)]
            if (at) acts.onValue(at, value)
          }}
        />
      )
  }
}
