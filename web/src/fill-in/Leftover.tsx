import { Button } from '@mantine/core'
import { keyOf } from './drafts.ts'
import classes from './FillIn.module.css'
import type { DueValue } from './fillIn.ts'
import type { Filling } from './useFilling.ts'

/** What was typed here of values that are not due any more: somebody else was quicker. */
export function Leftover(props: { filling: Filling; due: DueValue[]; whole: boolean }) {
  const { filling, due, whole } = props
  const there = new Set(due.map(keyOf))
  const left = Object.entries(filling.drafts).filter(
    ([key, draft]) => !there.has(key) && (whole || draft.refused),
  )
  if (left.length === 0) return null
  return (
    <section className={`card ${classes.left}`} aria-label="Filled in by others meanwhile">
      <b>Filled in by others meanwhile</b>
      <ul>
        {left.map(([key, draft]) => (
          <li key={key}>
            <b>{[draft.name, draft.breakdown].filter(Boolean).join(', ')}</b>
            <span>
              {draft.period}: you typed {draft.text}
              {draft.why && `, “${draft.why}”`}
            </span>
            {draft.refused && <span className="quiet">{draft.refused}</span>}
            <Button size="compact-sm" variant="default" onClick={() => filling.drop(key)}>
              Keep theirs
            </Button>
            {draft.over ? (
              <span>Yours is saved with the others.</span>
            ) : (
              <Button size="compact-sm" variant="default" onClick={() => filling.over(key)}>
                Write mine
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
