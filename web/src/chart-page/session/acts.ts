import type { Pin } from '../../chart/layers/lane/Story.tsx'
import { positionOf } from '../../chart/model/positions.ts'
import { periodInText } from '../../shared/writing.ts'
import type { Intent } from '../data/change.ts'
import type { SavedChart, SegmentSettings, Settings } from '../data/chart.ts'
import { apply, isTried, type On, say } from './apply.ts'
import { type BaselineDraft, baselineOf, windowOf } from './drafts/baseline.ts'
import { type EventDraft, eventAt, movedBy } from './drafts/eventDraft.ts'
import { changing, confirming, keepingLimits, removingShift, shifting } from './drafts/intents.ts'
import { newShift, type ShiftDraft, segmentsWith } from './drafts/shift.ts'
import { canRedo, canUndo, triedNow } from './drafts/trial.ts'
import { lineActs } from './lineActs.ts'
import { type AsideDraft, heldIn, type Session } from './mode.ts'

const TAKEN = 'There is a shift at this point already. Choose another point.'

/** Values that are set aside at once. */
const MOST_ASIDE = 400

/** A target with its high side, and the days from which on it is another one. */
export type TargetDraft = Required<Pick<Settings, 'target' | 'target_high' | 'target_steps'>>

export type Acts = ReturnType<typeof actsOn>

export function actsOn(on: On) {
  return {
    ...settingActs(on),
    ...lineActs(on),
    ...pointActs(on),
    ...eventActs(on),
    ...stepActs(on),
  }
}

/** Acts on the settings: segments and their limits, the target, the details. Long as a list: one act after another. */
function settingActs(on: On) {
  const { base, saved, whole, dispatch, writes } = on
  const close = () => dispatch({ type: 'close' })
  const drop = () => dispatch({ type: 'drop' })

  function placeShift(position: number) {
    if (!base) return
    if (!whole) {
      say(`Shifts are put on the whole by ${saved?.kpi.stored_grain}. Show that first.`)
      return
    }
    const draft = newShift(base, position)
    if (draft) dispatch({ type: 'hold', held: { kind: 'shift', draft, dragging: false } })
    else
      say(
        position === 0
          ? 'The first value has nothing before it to shift from. Choose a later point.'
          : TAKEN,
      )
  }

  function keepShift(draft: ShiftDraft) {
    if (!base || writes.change.isPending) return
    if (!segmentsWith(base, draft)) {
      drop()
      say(TAKEN)
      return
    }
    const from = periodInText(draft.period, base.kpi.grain)
    apply(on, shifting(draft), {
      done: () => {
        if (!isTried(on)) say(`Limits recalculated from ${from}.`)
      },
      after: drop,
    })
  }

  /** Takes up a review again that ended with the limits kept. */
  function reopenReview(kept: SavedChart['kept_limits'][number]) {
    if (!base) return
    const position = positionOf(base, kept.period)
    if (position === undefined && on.view.first) {
      say('Show all dates first: this period is not in them.')
      return
    }
    const { reason: what_changed, review } = kept
    const draft = position === undefined ? null : newShift(base, position, { what_changed, review })
    if (draft) dispatch({ type: 'hold', held: { kind: 'shift', draft, dragging: false } })
    else say('There is no room for a shift at this period any more.')
  }

  return {
    saving: writes.change.isPending,
    placeShift,
    keepShift,
    reopenReview,
    removeShift: (start: string | null | undefined) =>
      apply(on, removingShift(start), { done: close }),
    /** Records that a process has not shifted, and why; the limits stay as they are. */
    keepLimits: (period: string, reason: string, review: ShiftDraft['review'] = {}) =>
      apply(on, keepingLimits(period, reason, review), { done: close, after: drop }),
    /** Records that a value far off is right, so that it is not asked about again. */
    confirm: (period: string) => apply(on, confirming(period)),
    changeSegment: (start: string | null, changes: Partial<SegmentSettings>) =>
      apply(on, changing(start, changes), { done: close }),
    chooseBaseline: (number: number) => {
      const draft = base && baselineOf(base, number)
      if (draft) dispatch({ type: 'hold', held: { kind: 'baseline', draft, dragging: false } })
    },
    /** Takes the limits of a segment from a stretch of it. */
    takeBaseline: (number: number, { first, last }: { first: string; last: string }) => {
      const start = base?.segments[number]?.start
      if (start !== undefined) apply(on, changing(start, { window: [first, last] }))
    },
    keepBaseline: (draft: BaselineDraft) => {
      if (base) apply(on, changing(draft.start, { window: windowOf(base, draft) }), { after: drop })
    },
    setTarget: (target: TargetDraft) => apply(on, target, { done: close }),
    fixAxis: (end: 'low' | 'high', level: number, after: () => void) =>
      apply(on, { [`axis_${end}`]: level }, { after }),
    changeDetails: (changes: Intent, done?: () => void) => apply(on, changes, done ? { done } : {}),
  }
}

/** Acts on single points: set aside, put back, tried at another value. */
function pointActs(on: On) {
  const { base, view, dispatch, writes } = on
  return {
    /** Asks to set a point aside, or to put it back where it is aside. */
    takeAside: (position: number) => {
      const period = base?.points.period[base.points.position.indexOf(position)]
      if (!base || !period) return
      if (base.kpi.grain !== base.kpi.stored_grain) {
        say(`Points are set aside by ${base.kpi.stored_grain}. Show that first.`)
        return
      }
      const back = base.set_aside.some((point) => point.position === position)
      const draft = { position, period, back, reason: '' }
      dispatch({ type: 'hold', held: { kind: 'aside', draft } })
    },
    keepAside: ({ period, back, reason: typed }: AsideDraft) => {
      const reason = back ? null : typed.trim()
      const drop = () => dispatch({ type: 'drop' })
      if (isTried(on)) {
        dispatch({ type: 'try', more: { aside: { [period]: reason } } })
        drop()
      } else
        writes.aside.mutate(
          { period, breakdown: view.breakdown ?? null, reason },
          { onSettled: drop },
        )
    },
    /** Sets all values of a stretch aside as one act, or puts them into the trial. */
    takeAllAside: ({ first, last }: { first: string; last: string }, count: number) => {
      if (!base) return
      const { period } = base.points
      const periods = period.filter((period) => period >= first && period <= last)
      const [start = 0, stop = 0] = base.shown
      // A thinned chart does not have them all, nor one that shows other dates.
      const all = period.length === stop - start
      const inside = first >= (period[0] ?? '') && last <= (period.at(-1) ?? '')
      if (periods.length > MOST_ASIDE || !all || !inside) {
        say(`Show these dates alone first, and select at most ${MOST_ASIDE} of their values.`)
        return
      }
      const reason = 'Selected and set aside'
      const aside = Object.fromEntries(periods.map((period) => [period, reason]))
      if (isTried(on)) dispatch({ type: 'try', more: { aside } })
      else
        writes.trial.mutate(
          { intents: [], values: {}, aside },
          { onSuccess: () => say(`${count} values are set aside. Undo puts them back.`) },
        )
    },
    /** Selects the periods from one position to another; `more` keeps what was selected before. */
    selectSpan: (from: number, to: number, more: boolean) => {
      if (!base) return
      const { position, period } = base.points
      const [first, last] = [Math.min(from, to), Math.max(from, to)].map(
        (at) => period[position.indexOf(at)] ?? '',
      )
      if (first && last)
        dispatch({ type: 'select span', span: { first, last }, anchor: from, more })
    },
    /** Compares what is before a position with what is from there on. */
    splitAt: (position: number) => {
      if (!base) return
      const { period, position: positions } = base.points
      const at = positions.indexOf(position)
      const [first, before, after, last] = [period[0], period[at - 1], period[at], period.at(-1)]
      if (!first || !before || !after || !last) {
        say('There is nothing before this point to compare with.')
        return
      }
      const spans = [
        { first, last: before },
        { first: after, last },
      ] as const
      dispatch({ type: 'split', position, spans })
    },
    settingAside: writes.aside.isPending,
    tryValue: (period: string, value: number) => {
      dispatch({ type: 'try', more: { values: { [period]: value } } })
      dispatch({ type: 'close' })
    },
  }
}

/** Acts on the events of the story lane. */
function eventActs({ kpi, saved, dispatch, writes }: On) {
  const close = { onSuccess: () => dispatch({ type: 'close' }) }
  return {
    savingEvent:
      writes.addEvent.isPending || writes.changeEvent.isPending || writes.removeEvent.isPending,
    addEvent: (position: number, at: { x: number; y: number }, until = position) => {
      const [first, last] = [position, until].map(
        (at) => saved?.points.period[saved.points.position.indexOf(at)] ?? '',
      )
      const draft = { ...eventAt(first ?? '', kpi), last: (last ?? '').slice(0, 10) }
      dispatch({ type: 'open', card: { kind: 'event', draft, ...at } })
    },
    saveEvent: ({ id, version, ...event }: EventDraft, changes: Partial<EventDraft>) => {
      if (id === null) writes.addEvent.mutate(event, close)
      else writes.changeEvent.mutate({ event: { id, version, ...event }, changes }, close)
    },
    removeEvent: ({ id, ...event }: EventDraft) => {
      if (id !== null) writes.removeEvent.mutate({ id, ...event }, close)
    },
    moveEvent: (pin: Pin, days: number) => {
      const [event] = pin.events
      if (event) writes.changeEvent.mutate({ event, changes: movedBy(event, days) })
    },
  }
}

/** Undo and redo, of what is kept or of what is tried; the trial as a whole; deleting. */
function stepActs({ saved, state, dispatch, writes, mayEdit, mayAdd }: On) {
  const { trial } = state
  const busy = Object.values(writes).some((write) => write.isPending)
  const free = !busy && (state.mode.kind === 'rest' || state.mode.kind === 'card')
  const inHand = inHandNow(state)
  const drop = () => {
    dispatch({ type: 'close' })
    dispatch({ type: 'drop' })
    say(`Taken back: ${inHand}.`)
  }
  return {
    undo: {
      does: inHand
        ? inHand
        : trial
          ? canUndo(trial)
            ? 'the last thing tried'
            : null
          : mayAdd
            ? (saved?.history.undo ?? null)
            : null,
      act: () => {
        if (inHand) drop()
        else if (trial) dispatch({ type: 'step trial', by: -1 })
        else if (mayAdd && saved?.history.undo && free) writes.undo.mutate(undefined)
      },
    },
    redo: {
      does: trial
        ? canRedo(trial)
          ? 'what was tried'
          : null
        : mayAdd
          ? (saved?.history.redo ?? null)
          : null,
      act: () => {
        // What is in the hand would be lost under it.
        if (inHand) return
        if (trial) dispatch({ type: 'step trial', by: 1 })
        else if (mayAdd && saved?.history.redo && free) writes.redo.mutate(undefined)
      },
    },
    keepingTrial: writes.trial.isPending,
    keepTrial: () => {
      if (trial && mayEdit)
        writes.trial.mutate(triedNow(trial), {
          onSuccess: () => dispatch({ type: 'end trial' }),
        })
    },
    remove: writes.remove,
    changeError: writes.change.error,
  }
}

const HELD = {
  line: 'the line in hand',
  settings: 'the settings in hand',
  shift: 'the shift in review',
  baseline: 'the baseline in hand',
  aside: 'what was to be set aside',
}

/** What is in the hand and not kept yet, in words; null where nothing is. */
export function inHandNow(state: Session): string | null {
  const held = heldIn(state)
  if (held) return HELD[held.kind]
  const card = state.mode.kind === 'card' ? state.mode.card : null
  if (card?.kind === 'band' && card.added) return 'the band in hand'
  if (card?.kind === 'event' && card.draft.id === null) return 'the event in hand'
  return card?.kind === 'target' && card.target !== undefined ? 'the target in hand' : null
}
