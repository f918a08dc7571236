// What a person can do with the lines, bands and views of a chart.
import type { Schemas } from '../../api/client.ts'
import { apply, type On, say } from './apply.ts'
import {
  addingOffer,
  type BandDraft,
  changingLine,
  keepingBand,
  keepingLine,
  type LineDraft,
  movingLine,
  newBand,
  newLine,
  removingBand,
  removingLine,
  settingsOf,
} from './drafts/line.ts'
import { keepingView, removingView, type ViewDraft } from './drafts/view.ts'

/** Acts on the lines and bands that people put on the chart. */
export function lineActs(on: On) {
  const { base, dispatch } = on
  const close = () => dispatch({ type: 'close' })
  const open = (draft: LineDraft, added: boolean, at: { x: number; y: number }) => {
    dispatch({ type: 'hold', held: { kind: 'line', draft, added } })
    dispatch({ type: 'open', card: { kind: 'line', ...at } })
  }
  return {
    addLine: (at: { x: number; y: number }) => {
      if (base) open(newLine(base), true, at)
    },
    addOffer: (offer: Schemas['Offer']) => apply(on, addingOffer(offer)),
    openLine: (key: string, at: { x: number; y: number }) => {
      const line = base?.lines.find((line) => line.key === key)
      if (line) open(settingsOf(line), false, at)
    },
    keepLine: (draft: LineDraft) => apply(on, keepingLine(draft), { done: close }),
    changeLine: (key: string, changes: Partial<LineDraft>, after?: () => void) =>
      apply(on, changingLine(key, changes), after ? { after } : {}),
    moveLine: (key: string, by: -1 | 1) => apply(on, movingLine(key, by)),
    removeLine: (key: string) => apply(on, removingLine(key), { done: close }),
    addBand: (at: { x: number; y: number }) => {
      const draft = base && newBand(base)
      if (draft) dispatch({ type: 'open', card: { kind: 'band', draft, added: true, ...at } })
      else say('A band lies between two lines: add these first.')
    },
    keepBand: (draft: BandDraft) => apply(on, keepingBand(draft), { done: close }),
    keepView: (draft: ViewDraft, done: () => void) => apply(on, keepingView(draft), { done }),
    removeView: (name: string) => apply(on, removingView(name)),
    removeBand: (key: string) => apply(on, removingBand(key), { done: close }),
  }
}
