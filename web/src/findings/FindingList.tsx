import { type KeyboardEvent, useRef } from 'react'
import { longPeriod } from '../shared/writing.ts'
import { FindingRow } from './FindingRow.tsx'
import classes from './Findings.module.css'
import type { Finding, Order } from './findings.ts'
import type { Held } from './held.ts'

interface Props {
  workspace: string
  rows: readonly Held[]
  opened: number | null
  chosen: ReadonlySet<number>
  onChoose: (chosen: ReadonlySet<number>) => void
  /** By a pointer, by a key, or to say its cause. */
  onOpen: (finding: Finding, how: 'pointer' | 'key' | 'explain') => void
}

/** The rows of the log under their headings, walked with the arrow keys. */
export function FindingList({ workspace, rows, opened, chosen, onChoose, onOpen }: Props) {
  const list = useRef<HTMLUListElement>(null)

  function onKey(event: KeyboardEvent<HTMLUListElement>) {
    const rows = [...(list.current?.querySelectorAll<HTMLElement>('[data-row]') ?? [])]
    const at = rows.indexOf(document.activeElement as HTMLElement)
    const by = { ArrowDown: 1, j: 1, ArrowUp: -1, k: -1 }[event.key]
    if (at < 0 || !by) return
    event.preventDefault()
    rows[at + by]?.focus()
  }

  return (
    <ul className={classes.rows} data-log ref={list} onKeyDown={onKey} aria-label="Findings">
      {rows.map(({ finding, heading }, n) => (
        <li key={finding.id}>
          {heading !== rows[n - 1]?.heading && <h2 className={classes.heading}>{heading}</h2>}
          <FindingRow
            {...{ workspace, finding }}
            chosen={chosen.has(finding.id)}
            onChoose={() => {
              const next = new Set(chosen)
              if (!next.delete(finding.id)) next.add(finding.id)
              onChoose(next)
            }}
            current={finding.id === opened}
            onOpen={(byKey) => onOpen(finding, byKey ? 'key' : 'pointer')}
            onExplain={() => onOpen(finding, 'explain')}
          />
        </li>
      ))}
    </ul>
  )
}

/** Under what a finding stands in the log, by the order that is asked for. */
export function headingBy(order: Order | undefined): (finding: Finding) => string {
  if (order === 'kpi') return (finding) => finding.kpi_name
  if (order === 'week') return (finding) => longPeriod(mondayOf(finding.first), 'week')
  return (finding) => {
    if (finding.is_new) return 'New since you last looked'
    return finding.state === 'open' || finding.state === 'looking' ? 'Without a cause' : 'The rest'
  }
}

/** The Monday of the week of a period, as a day. */
function mondayOf(period: string): string {
  const day = new Date(`${period.slice(0, 10)}T00:00Z`)
  day.setUTCDate(day.getUTCDate() - ((day.getUTCDay() + 6) % 7))
  return day.toISOString().slice(0, 10)
}
