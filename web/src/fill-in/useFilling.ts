// What is typed, kept on the device, and sent: at once, or when the connection is back.
import { useDebouncedValue } from '@mantine/hooks'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Problem, Unreachable } from '../api/client.ts'
import { useImportActs } from '../intake/imports.ts'
import { useInHand } from '../shared/inHand.ts'
import { notifyProblem, notifyUndoable } from '../shared/notifications.tsx'
import { useSession } from '../shared/session.ts'
import { type Typing, typingOf } from '../shared/typing.ts'
import { counted } from '../shared/writing.ts'
import {
  asRow,
  type Draft,
  type Drafts,
  emptyDraft,
  keep,
  kept,
  keyOf,
  ready,
  refused,
  spread,
  withDraft,
  without,
} from './drafts.ts'
import { type DueValue, send, useChecks, useRenewed, type ValueCheck } from './fillIn.ts'

/** Values that are sent together: the server analyses the chart of each while somebody waits. */
const TOGETHER = 50
const AGAIN_AFTER = 15_000
const JUDGED_AFTER = 250

export type Sending = 'idle' | 'sending' | 'waiting'

export function useFilling(workspace: string, values: DueValue[]) {
  const person = useSession().data?.username ?? ''
  const [drafts, setDrafts] = useState<Drafts>(() => kept(workspace, person))
  const [sending, setSending] = useState<Sending>('idle')
  const [left, setLeft] = useState(0)
  const renewed = useRenewed(workspace)
  const { undo } = useImportActs(workspace)
  const latest = useRef(drafts)
  const busy = useRef(false)
  useInHand(Object.keys(drafts).length > 0)

  const change = (make: (drafts: Drafts) => Drafts) => {
    latest.current = make(latest.current)
    keep(workspace, person, latest.current)
    setDrafts(latest.current)
  }

  const known = useMemo(() => new Map(values.map((value) => [keyOf(value), value])), [values])
  const typing = (draft: Draft): Typing => {
    const value = known.get(keyOf(draft)) ?? values.find(({ kpi }) => kpi === draft.kpi)
    // Of one that is not due any more it is told by what was typed.
    return typingOf({
      aggregation: value?.aggregation ?? (/ of |\//.test(draft.text) ? 'ratio' : 'mean'),
    })
  }
  const sendable = ready(drafts, typing)
  const asked = sendable.map(({ draft, typed }) => ({ kpi: draft.kpi, ...typed }))
  const [settled] = useDebouncedValue(
    { keys: sendable.map(({ key }) => key).slice(0, 200), asked: asked.slice(0, 200) },
    JUDGED_AFTER,
  )
  const answers = useChecks(workspace, settled.asked)
  const checks = new Map<string, ValueCheck>()
  if (!answers.isPlaceholderData)
    settled.keys.forEach((key, n) => {
      // Parts have no limits of their own kept.
      const found = drafts[key]?.breakdown === '' ? answers.data?.[n] : undefined
      if (found) checks.set(key, found)
    })

  const save = async (quietly = false) => {
    const all = ready(latest.current, typing)
    if (all.length === 0 || busy.current) return
    busy.current = true
    setSending('sending')
    let saved = 0
    const imports: number[] = []
    let goesOn = true
    for (let at = 0; at < all.length && goesOn; at += TOGETHER) {
      const part = all.slice(at, at + TOGETHER)
      setLeft(all.length - at)
      const keys = part.map(({ key }) => key)
      try {
        const done = await send(
          workspace,
          part.map(({ key, draft, typed }) => asRow(draft, typed, checks.get(key))),
        )
        saved += done.saved
        if (done.number !== null) imports.push(done.number)
        // What was typed over it meanwhile stays.
        change((now) =>
          without(
            now,
            part.filter(({ key, draft }) => now[key]?.text === draft.text).map(({ key }) => key),
          ),
        )
      } catch (error) {
        goesOn = false
        if (error instanceof Unreachable) {
          setSending('waiting')
        } else {
          setSending('idle')
          if (error instanceof Problem) change((now) => refused(now, keys, error.issues))
          if (!quietly) notifyProblem(error as Error)
        }
      }
    }
    busy.current = false
    if (goesOn) setSending('idle')
    if (saved > 0) {
      notifyUndoable(`${counted(saved, 'value')} saved.`, async () => {
        for (const number of imports.toReversed())
          await undo.mutateAsync({ number, later: null }).catch(notifyProblem)
      })
    }
    if (saved > 0 || !goesOn) await renewed()
  }

  // Each time anew: what is sent is what is there then.
  const again = useRef(save)
  again.current = save
  const waits = sending === 'waiting'
  useEffect(() => {
    if (!waits) return
    const retry = () => void again.current(true)
    window.addEventListener('online', retry)
    const clock = window.setInterval(retry, AGAIN_AFTER)
    return () => {
      window.removeEventListener('online', retry)
      window.clearInterval(clock)
    }
  }, [waits])

  return {
    drafts,
    checks,
    sending,
    left,
    count: sendable.length,
    save,
    type: (value: DueValue, changes: Partial<Draft>) =>
      change((now) => {
        const key = keyOf(value)
        return withDraft(now, key, { ...(now[key] ?? emptyDraft(value)), refused: '', ...changes })
      }),
    paste: (from: number, block: string) => {
      const { cells, left } = spread(values, from, block)
      change((now) =>
        cells.reduce((all, { value, text, why }) => {
          const key = keyOf(value)
          const draft = all[key] ?? emptyDraft(value)
          return withDraft(all, key, { ...draft, text, why: why || draft.why, refused: '' })
        }, now),
      )
      return left
    },
    drop: (key: string) => change((now) => without(now, [key])),
    over: (key: string) =>
      change((now) => {
        const draft = now[key]
        return draft ? { ...now, [key]: { ...draft, refused: '', over: true } } : now
      }),
  }
}

export type Filling = ReturnType<typeof useFilling>
