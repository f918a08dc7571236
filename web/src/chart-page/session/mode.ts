// What a person is doing on a chart, as one state: what is in the hand, what is open, what is tried.
import type { Pin } from '../../chart/layers/lane/Story.tsx'
import type { LineName } from '../../chart/model/tags.ts'
import type { Chart, Settings } from '../data/chart.ts'
import type { BaselineDraft, Window } from './drafts/baseline.ts'
import type { EventDraft } from './drafts/eventDraft.ts'
import type { BandDraft, LineDraft } from './drafts/line.ts'
import type { ShiftDraft } from './drafts/shift.ts'
import { newTrial, type Trial, type Tried, trying } from './drafts/trial.ts'

/** A point that is about to be set aside, or put back. */
export interface AsideDraft {
  position: number
  period: string
  /** Whether it is set aside now, and would come back. */
  back: boolean
  reason: string
}

/** What is in the hand and not kept yet. */
export type Held =
  | { kind: 'shift'; draft: ShiftDraft; dragging: boolean }
  | { kind: 'baseline'; draft: BaselineDraft; dragging: boolean }
  | { kind: 'aside'; draft: AsideDraft }
  | { kind: 'line'; draft: LineDraft; added: boolean }
  | { kind: 'settings'; changes: Settings }

/** What is open over the chart, and where; a segment with the line whose tag it was opened at. */
export type Card = { x: number; y: number } & (
  | { kind: 'segment'; number: number; line?: LineName }
  | { kind: 'target'; target?: number }
  | { kind: 'line' }
  | { kind: 'band'; draft: BandDraft; added: boolean }
  | { kind: 'axis' }
  | { kind: 'rules' }
  | { kind: 'calendar' }
  | { kind: 'event'; draft: EventDraft }
  | { kind: 'pin'; pin: Pin }
  | { kind: 'candidate'; candidate: Chart['candidates'][number] }
  | { kind: 'value'; position: number }
)

/** Where a card opens that belongs to no place of the chart, in pixels of it. */
export const BESIDE_AXIS = { x: 44, y: 190 }

/** Opens a card that is about the KPI as a whole, or has no place of the chart to open at. */
export const besideAxis = (kind: 'rules' | 'axis' | 'calendar' | 'target'): SessionEvent => ({
  type: 'open',
  card: { kind, ...BESIDE_AXIS },
})

const REST = { kind: 'rest' } as const

/** What is in the hand only as long as its card is open. */
const OF_A_CARD: ReadonlySet<Held['kind'] | 'rest'> = new Set(['line', 'settings'])

/** One thing at a time; a card may open over what is held, which is there again when it closes. */
export type Mode = typeof REST | Held | { kind: 'card'; card: Card; over: typeof REST | Held }

export interface Session {
  mode: Mode
  /** What acts are done on while it goes on, whatever the mode: nothing of it is kept. */
  trial: Trial | null
  /** Whether the chart as it is shows, in place of the trial. */
  real: boolean
  selected: number | null
  hovered: number | null
  /** Points that are lit because something beside the chart speaks of them. */
  lit: readonly number[]
  /** Stretches of periods that are selected; the last one is the one that grows. */
  spans: readonly Span[]
  /** What of a named view is hidden, where a person looks at it otherwise; null: as it is kept. */
  adjusted: readonly string[] | null
  /** Where the periods before and after are compared; moved by hand, kept nowhere. */
  split: number | null
  /** A state of the world that the KPI is compared in and out of. */
  world: string | null
  /** Where the last one began, by position, so that keys make it longer or shorter. */
  anchor: number | null
}

/** A stretch of periods, by its first and its last one. */
export interface Span {
  first: string
  last: string
}

/** More selections than these cannot be compared at a glance. */
export const MOST_SPANS = 4

export const atRest: Session = {
  mode: REST,
  trial: null,
  real: false,
  selected: null,
  hovered: null,
  lit: [],
  spans: [],
  anchor: null,
  split: null,
  world: null,
  adjusted: null,
}

export type SessionEvent =
  | { type: 'hold'; held: Held }
  | { type: 'edit shift'; draft: ShiftDraft; dragging?: boolean }
  | { type: 'edit baseline'; window: Window; dragging?: boolean }
  | { type: 'edit aside'; draft: AsideDraft }
  | { type: 'edit line'; draft: LineDraft }
  | { type: 'edit settings'; changes: Settings }
  | { type: 'drop' }
  | { type: 'open'; card: Card }
  | { type: 'close' }
  | { type: 'select'; position: number | null }
  | { type: 'hover'; position: number | null }
  | { type: 'light'; positions: readonly number[] }
  | { type: 'select span'; span: Span; anchor: number; more: boolean }
  | { type: 'split'; position: number; spans: readonly [Span, Span] }
  | { type: 'clear spans' }
  | { type: 'adjust view'; hidden: readonly string[] | null }
  | { type: 'compare state'; title: string | null }
  | { type: 'look elsewhere' }
  | { type: 'begin trial' }
  | { type: 'try'; more: Partial<Tried> }
  | { type: 'step trial'; by: -1 | 1 }
  | { type: 'show real'; real: boolean }
  | { type: 'end trial' }

export function session(state: Session, event: SessionEvent): Session {
  switch (event.type) {
    case 'hold':
      return { ...state, mode: event.held }
    case 'edit shift':
    case 'edit baseline':
    case 'edit aside':
    case 'edit line': {
      const held = heldIn(state)
      const edited = held && editedBy(held, event)
      return edited ? { ...state, mode: inPlaceOf(state.mode, edited) } : state
    }
    case 'edit settings': {
      const held = heldIn(state)
      // What is in the hand already is not put away for them: they are seen once they are kept.
      if (held && held.kind !== 'settings') return state
      const none = Object.keys(event.changes).length === 0
      return {
        ...state,
        mode: inPlaceOf(state.mode, none ? REST : { kind: 'settings', changes: event.changes }),
      }
    }
    case 'drop':
      return { ...state, mode: inPlaceOf(state.mode, REST) }
    case 'open':
      return { ...state, mode: { kind: 'card', card: event.card, over: under(state.mode) } }
    case 'close':
      if (state.mode.kind !== 'card') return state
      // Lines and settings are in the hand only as long as their card is open.
      return { ...state, mode: OF_A_CARD.has(state.mode.over.kind) ? REST : state.mode.over }
    case 'select':
      return { ...state, selected: event.position }
    case 'select span': {
      const before = event.more ? state.spans : state.spans.slice(0, -1)
      const spans = [...(state.split === null ? before : []), event.span].slice(-MOST_SPANS)
      return { ...state, spans, anchor: event.anchor, split: null }
    }
    case 'adjust view':
      return { ...state, adjusted: event.hidden }
    case 'compare state':
      return { ...state, world: event.title, mode: state.mode.kind === 'card' ? REST : state.mode }
    case 'clear spans':
      return { ...state, spans: [], anchor: null, split: null }
    case 'split':
      return { ...state, spans: event.spans, anchor: null, split: event.position }
    case 'hover':
      return { ...state, hovered: event.position }
    case 'light':
      return { ...state, lit: event.positions }
    // What was chosen at one grain, or of one part, holds for no other.
    case 'look elsewhere':
      return { ...atRest, trial: state.trial, real: state.real }
    case 'begin trial':
      return { ...state, trial: newTrial, real: false }
    case 'try':
      return { ...state, trial: trying(state.trial ?? newTrial, event.more), real: false }
    case 'step trial':
      return state.trial
        ? { ...state, trial: { ...state.trial, at: within(state.trial, event.by) } }
        : state
    case 'show real':
      return { ...state, real: event.real }
    case 'end trial':
      return { ...state, trial: null, real: false, mode: REST }
  }
}

/** What is in the hand, also while a card is open over it. */
export function heldIn({ mode }: Session): Held | null {
  const held = under(mode)
  return held.kind === 'rest' ? null : held
}

const under = (mode: Mode) => (mode.kind === 'card' ? mode.over : mode)

const inPlaceOf = (mode: Mode, next: typeof REST | Held): Mode =>
  mode.kind === 'card' ? { ...mode, over: next } : next

function editedBy(held: Held, event: SessionEvent): Held | null {
  if (held.kind === 'shift' && event.type === 'edit shift')
    return { ...held, draft: event.draft, dragging: event.dragging ?? held.dragging }
  if (held.kind === 'baseline' && event.type === 'edit baseline')
    return {
      ...held,
      draft: { ...held.draft, ...event.window },
      dragging: event.dragging ?? held.dragging,
    }
  if (held.kind === 'aside' && event.type === 'edit aside') return { ...held, draft: event.draft }
  if (held.kind === 'line' && event.type === 'edit line') return { ...held, draft: event.draft }
  return null
}

const within = ({ steps, at }: Trial, by: number) =>
  Math.max(0, Math.min(steps.length - 1, at + by))
