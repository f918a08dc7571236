// The order of the log while somebody works through it.
import { useMutationState } from '@tanstack/react-query'
import { useRef } from 'react'
import { type Finding, savedFindings } from './findings.ts'

export interface Held {
  finding: Finding
  heading: string
}

/** The findings in the order and under the headings that they came in.
 *
 * What is done about one moves it nowhere: it stays under the hand, as it is by now, until
 * something else is asked for. ``rows`` is null until that has come.
 */
export function useHeld(
  rows: readonly Finding[] | null,
  asked: string,
  headingOf: (finding: Finding) => string,
): Held[] {
  const saved = useMutationState(savedFindings)
  const held = useRef<{ asked: string; rows: Held[] }>({ asked, rows: [] })
  // Until what is asked for has come, what was there stays.
  if (rows === null) return held.current.rows
  if (held.current.asked !== asked) held.current = { asked, rows: [] }
  held.current.rows = heldOrder(held.current.rows, rows, saved, headingOf)
  return held.current.rows
}

/** What was held, each as it is by now, with what has come at its place. Pure. */
export function heldOrder(
  held: readonly Held[],
  rows: readonly Finding[],
  saved: readonly (Finding | undefined)[],
  headingOf: (finding: Finding) => string,
): Held[] {
  const now = new Map(rows.map((finding) => [finding.id, finding]))
  const known = new Set(held.map(({ finding }) => finding.id))
  // One that is no longer among those that are asked for is as it was saved last.
  const latest = (id: number) =>
    saved.reduce(
      (best, one) => (one?.id === id && (!best || one.version > best.version) ? one : best),
      undefined,
    )
  const kept = held.map(({ finding, heading }) => ({
    finding: now.get(finding.id) ?? latest(finding.id) ?? finding,
    heading,
  }))
  rows.forEach((finding, n) => {
    if (!known.has(finding.id)) kept.splice(n, 0, { finding, heading: headingOf(finding) })
  })
  return kept
}
