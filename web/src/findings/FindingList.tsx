import { type KeyboardEvent, useRef } from 'react'
import { FindingRow } from './FindingRow.tsx'
import classes from './Findings.module.css'
import type { Finding } from './findings.ts'

interface Props {
  workspace: string
  rows: readonly Finding[]
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
    <ul className={classes.rows} ref={list} onKeyDown={onKey} aria-label="Findings">
      {rows.map((finding, n) => (
        <li key={finding.id}>
          {headingOf(finding) !== headingOf(rows[n - 1]) && (
            <h2 className={classes.heading}>{headingOf(finding)}</h2>
          )}
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

/** Where a finding stands in the log: what is new first, then what has no cause. */
function headingOf(finding: Finding | undefined): string {
  if (!finding) return ''
  if (finding.is_new) return 'New since you last looked'
  return finding.state === 'open' || finding.state === 'looking' ? 'Without a cause' : 'The rest'
}
