// What is typed and not saved yet, kept on the device until the server has it. Pure.
import type { Issue } from '../api/client.ts'
import { jsonInBrowser, keepInBrowser } from '../shared/inBrowser.ts'
import { cellsOf, type Typed, type Typing } from '../shared/typing.ts'
import type { DueValue, Row, ValueCheck } from './fillIn.ts'

/** What was typed for a value; `name` and `period` tell of which, once it is not due any more. */
export interface Draft {
  kpi: string
  name: string
  period: string
  breakdown: string
  text: string
  why: string
  /** Whether it replaces what somebody else has typed meanwhile. */
  over: boolean
  /** Why it was not saved, in the server's words. */
  refused: string
}

export type Drafts = Record<string, Draft>

export const keyOf = (value: Pick<DueValue, 'kpi' | 'period' | 'breakdown'>) =>
  [value.kpi, value.period, value.breakdown].join('\n')

export const emptyDraft = ({ kpi, name, period, breakdown }: DueValue): Draft => ({
  ...{ kpi, name, period, breakdown },
  ...{ text: '', why: '', over: false, refused: '' },
})

/** The drafts with one changed; one in which nothing is typed any more is none. */
export function withDraft(drafts: Drafts, key: string, draft: Draft): Drafts {
  const { [key]: _, ...others } = drafts
  return draft.text.trim() || draft.why.trim() ? { ...others, [key]: draft } : others
}

export const without = (drafts: Drafts, gone: string[]): Drafts =>
  Object.fromEntries(Object.entries(drafts).filter(([key]) => !gone.includes(key)))

/** A draft as it is saved; outside the limits, what is written is the cause of the finding, too. */
export function asRow(draft: Draft, typed: Typed, check: ValueCheck | undefined): Row {
  const outside = check?.stands === 'above' || check?.stands === 'below'
  const { kpi, period, breakdown, over } = draft
  const why = draft.why.trim()
  return {
    ...{ kpi, period, breakdown, over },
    value: typed.value ?? null,
    numerator: typed.numerator ?? null,
    denominator: typed.denominator ?? null,
    note: why.slice(0, 500),
    cause: outside ? why.slice(0, 300) : '',
  }
}

/** The drafts with what the server refused written to each; `keys` are those that were sent. */
export function refused(drafts: Drafts, keys: string[], issues: Issue[]): Drafts {
  const told = { ...drafts }
  for (const { field, detail, remedy } of issues) {
    const key = keys[Number(field.match(/^rows\.(\d+)/)?.[1] ?? -1)]
    const draft = key === undefined ? undefined : told[key]
    if (key !== undefined && draft)
      told[key] = { ...draft, refused: [detail, remedy].filter(Boolean).join(' '), over: false }
  }
  return told
}

/** A column pasted from a row on: what goes into which rows, and how many lines found none. */
export function spread(
  values: DueValue[],
  from: number,
  block: string,
): { cells: { value: DueValue; text: string; why: string }[]; left: number } {
  const lines = cellsOf(block)
  const cells = lines.flatMap(([text = '', why = ''], n) => {
    const value = values[from + n]
    return value ? [{ value, text: text.trim(), why: why.trim() }] : []
  })
  return { cells, left: lines.length - cells.length }
}

/** Which of the drafts can be sent, with what is sent of each. */
export function ready(
  drafts: Drafts,
  typingOf: (draft: Draft) => Typing,
): { key: string; draft: Draft; typed: Typed }[] {
  return Object.entries(drafts).flatMap(([key, draft]) => {
    const typed = draft.refused ? null : typingOf(draft).read(draft.text)
    return typed === null || typingOf(draft).wrong(draft.text) ? [] : [{ key, draft, typed }]
  })
}

const nameOf = (workspace: string, person: string) => `fluctus.fill-in.${workspace}.${person}`

/** What the device has kept for a person; nothing where it keeps nothing, or something else. */
export function kept(workspace: string, person: string): Drafts {
  const read = jsonInBrowser(nameOf(workspace, person))
  if (typeof read !== 'object' || read === null) return {}
  return Object.fromEntries(Object.entries(read).filter(([, draft]) => isDraft(draft)))
}

const isDraft = (draft: Partial<Draft> | null): draft is Draft =>
  [draft?.kpi, draft?.name, draft?.period, draft?.breakdown, draft?.text, draft?.why].every(
    (text) => typeof text === 'string',
  )

export function keep(workspace: string, person: string, drafts: Drafts): void {
  const nothing = Object.keys(drafts).length === 0
  keepInBrowser(nameOf(workspace, person), nothing ? null : JSON.stringify(drafts))
}
