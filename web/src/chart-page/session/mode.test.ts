// What a person does on a chart, one act after the other, as one state.
import { describe, expect, it } from 'vitest'
import { atRest, type Card, type Held, heldIn, type Session, session } from './mode.ts'

const draft = {
  from: null,
  position: 4,
  period: '2026-03-05',
  name: '',
  what_changed: '',
  review: {},
}
const shift: Held = { kind: 'shift', draft, dragging: true }
const aside: Held = {
  kind: 'aside',
  draft: { position: 2, period: '2026-03-03', back: false, reason: '' },
}
const card: Card = { kind: 'target', x: 10, y: 20 }

const having = (...events: Parameters<typeof session>[1][]): Session =>
  events.reduce(session, atRest)

describe('what is in the hand', () => {
  it('is one thing: taking another lets go of the first', () => {
    const held = having({ type: 'hold', held: shift }, { type: 'hold', held: aside })
    expect(held.mode).toEqual(aside)
  })

  it('is changed only by what speaks of its own kind', () => {
    const moved = { ...draft, position: 6, period: '2026-03-07' }
    const edit = { type: 'edit shift', draft: moved, dragging: false } as const
    expect(heldIn(having({ type: 'hold', held: shift }, edit))).toEqual({
      kind: 'shift',
      draft: moved,
      dragging: false,
    })
    const other = having({ type: 'hold', held: aside })
    expect(session(other, edit)).toBe(other)
    expect(session(atRest, edit)).toBe(atRest)
  })

  it('stays under a card, can be changed there, and is there again when the card closes', () => {
    const open = having({ type: 'hold', held: shift }, { type: 'open', card })
    expect(heldIn(open)).toEqual(shift)
    const named = session(open, { type: 'edit shift', draft: { ...draft, name: 'Drill' } })
    expect(named.mode.kind).toBe('card')
    const closed = session(named, { type: 'close' })
    expect(closed.mode).toMatchObject({ kind: 'shift', dragging: true, draft: { name: 'Drill' } })
  })

  it('is dropped from under a card, which stays open', () => {
    const dropped = having({ type: 'hold', held: shift }, { type: 'open', card }, { type: 'drop' })
    expect(dropped.mode).toEqual({ kind: 'card', card, over: { kind: 'rest' } })
  })

  it('and a card that opens over a card takes its place, not what lies under both', () => {
    const pin: Card = { kind: 'segment', number: 1, x: 0, y: 0 }
    const both = having(
      { type: 'hold', held: aside },
      { type: 'open', card },
      { type: 'open', card: pin },
      { type: 'close' },
    )
    expect(both.mode).toEqual(aside)
  })
})

describe('settings in a card', () => {
  const rules = { type: 'open', card: { kind: 'rules', x: 0, y: 0 } } as const
  const edit = { type: 'edit settings', changes: { run_length: 9 } } as const

  it('are in the hand as long as they differ and the card is open', () => {
    const edited = having(rules, edit)
    expect(heldIn(edited)).toEqual({ kind: 'settings', changes: { run_length: 9 } })
    expect(heldIn(session(edited, { type: 'edit settings', changes: {} }))).toBeNull()
    expect(session(edited, { type: 'close' }).mode).toEqual({ kind: 'rest' })
  })

  it('put nothing away that is in the hand already', () => {
    const held = having({ type: 'hold', held: shift }, rules, edit)
    expect(heldIn(held)).toEqual(shift)
    expect(session(held, { type: 'close' }).mode).toEqual(shift)
  })
})

describe('looking at another grain or part', () => {
  it('lets go of what was chosen and held, and goes on with the trial', () => {
    const elsewhere = having(
      { type: 'begin trial' },
      { type: 'try', more: { intents: [{ target: 21 }] } },
      { type: 'hold', held: shift },
      { type: 'select', position: 3 },
      { type: 'look elsewhere' },
    )
    expect(elsewhere).toMatchObject({ mode: { kind: 'rest' }, selected: null, lit: [] })
    expect(elsewhere.trial?.steps).toHaveLength(2)
  })
})

describe('a trial', () => {
  const tried = (target: number) => ({ type: 'try', more: { intents: [{ target }] } }) as const

  it('begins with the first thing tried by who may not change the chart', () => {
    expect(having(tried(3)).trial).toEqual(having({ type: 'begin trial' }, tried(3)).trial)
  })

  it('steps back and on within what was tried, and forgets what was undone when more is tried', () => {
    let state = having({ type: 'begin trial' }, tried(3), tried(4))
    for (let n = 0; n < 5; n++) state = session(state, { type: 'step trial', by: -1 })
    expect(state.trial?.at).toBe(0)
    state = session(state, { type: 'step trial', by: 1 })
    expect(state.trial?.at).toBe(1)
    state = session(state, tried(9))
    const targets = state.trial?.steps.map(({ intents }) => intents.at(-1))
    expect(targets).toEqual([undefined, { target: 3 }, { target: 9 }])
    state = session(state, { type: 'step trial', by: 1 })
    expect(state.trial?.at).toBe(2)
  })

  it('shows what is tried again once more is tried, and ends with what was in the hand', () => {
    const looking = having({ type: 'begin trial' }, { type: 'show real', real: true }, tried(3))
    expect(looking.real).toBe(false)
    const ended = session(session(looking, { type: 'hold', held: shift }), { type: 'end trial' })
    expect(ended).toEqual(atRest)
  })
})
