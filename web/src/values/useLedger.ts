// Walking, typing and pasting in the ledger, by hand and by keys.
import { useMediaQuery } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useVirtualizer } from '@tanstack/react-virtual'
import { type ClipboardEvent, type KeyboardEvent, useEffect, useRef, useState } from 'react'
import type { Chart } from '../chart/model/types.ts'
import type { KpiPath } from '../chart-page/data/chart.ts'
import { typingOf } from '../shared/typing.ts'
import { counted, longPeriod } from '../shared/writing.ts'
import { type Column, changed, pasted } from './edits.ts'
import { useEditValues, useValues, type Value, type Wanted } from './values.ts'

const ROW = 34
/** As in the style sheet: what stands in a row is a card then. */
const NARROW = '(max-width: 700px)'
const CARD = 66
const STEPS_OF_A_PAGE = 12
export const COLUMNS: Column[] = ['value', 'note']

/** The rows of a ledger as they are scrolled to, the cell that is chosen, and what acts on it. */
export function useLedger(path: KpiPath, kpi: Chart['kpi'], wanted: Wanted, mayWrite: boolean) {
  const frame = useRef<HTMLDivElement>(null)
  const [seen, setSeen] = useState<[number, number]>([0, 0])
  const values = useValues(path, wanted, seen[0], seen[1])
  const { breakdown } = wanted
  const narrow = useMediaQuery(NARROW) ?? false
  const { next } = values
  const edit = useEditValues(path)
  const [at, setAt] = useState<{ row: number; column: Column } | null>(null)
  const [editing, setEditing] = useState<string | null>(null)
  // A new value needs a breakdown to belong to, and is none of those that are looked for.
  const looking = wanted.only !== null || wanted.by !== null
  const open = next !== null && !looking && (kpi.breakdowns.length === 0 || breakdown !== null)
  const rows = values.count + (open ? 1 : 0)
  const typing = typingOf(kpi)
  const ledger = { count: values.count, at: values.at, next: open ? next : null, breakdown, typing }
  const list = useVirtualizer({
    count: rows,
    getScrollElement: () => frame.current,
    estimateSize: () => (narrow ? CARD : ROW),
    overscan: 12,
  })
  const shown = list.getVirtualItems()
  const from = shown[0]?.index ?? 0
  const to = shown.at(-1)?.index ?? 0
  useEffect(() => setSeen([from, to]), [from, to])
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured anew where rows become cards
  useEffect(() => list.measure(), [narrow])
  const begun = useRef(false)
  // The newest values are what most come for.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when there are rows
  useEffect(() => {
    if (begun.current || rows === 0 || !frame.current || looking) return
    begun.current = true
    // Who comes to mend a value finds it in hand.
    const wanted = new URLSearchParams(window.location.search).get('row')
    if (wanted === null) frame.current.scrollTop = frame.current.scrollHeight
    else go(Number(wanted) || 0, 'value')
  }, [rows])

  const before = useRef(rows)
  // A value that was added at the end makes room for the next one.
  useEffect(() => {
    if (rows === before.current + 1 && at?.row === before.current - 1) go(rows - 1, 'value')
    before.current = rows
  })

  function go(row: number, column: Column) {
    const bounded = Math.max(0, Math.min(rows - 1, row))
    setAt({ row: bounded, column })
    list.scrollToIndex(bounded)
    // The row may only be there after the scroll.
    requestAnimationFrame(() =>
      frame.current
        ?.querySelector<HTMLElement>(`[data-cell="${bounded} ${column}"]`)
        ?.focus({ preventScroll: true }),
    )
  }

  function keep(row: number, column: Column, text: string, by: number) {
    setEditing(null)
    const value = values.at(row)
    // A gap that is filled is none any more, and the next one takes its row.
    go(wanted.only === 'missing' ? row : row + by, column)
    if (column === 'note') {
      if (value && text !== value.note) edit.mutate([changed(ledger, row, { note: text })])
      return
    }
    const typed = typing.read(text)
    if (typed === null || text === textOf(value, 'value')) return
    edit.mutate([changed(ledger, row, typed)])
  }

  function onKey(event: KeyboardEvent, row: number, column: Column) {
    if (editing !== null || event.ctrlKey || event.metaKey || event.altKey) return
    const moves: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      PageUp: [-STEPS_OF_A_PAGE, 0],
      PageDown: [STEPS_OF_A_PAGE, 0],
      Home: [-rows, 0],
      End: [rows, 0],
    }
    const move = moves[event.key]
    if (move) {
      event.preventDefault()
      const next = COLUMNS[COLUMNS.indexOf(column) + move[1]] ?? column
      go(row + move[0], next)
    } else if (!mayWrite) {
      return
    } else if (event.key === 'Enter' || event.key === 'F2') {
      event.preventDefault()
      setEditing(textOf(values.at(row), column))
    } else if (event.key === 'Delete' && values.at(row)?.version) {
      event.preventDefault()
      remove(row)
    } else if (event.key.length === 1 && event.key !== '?') {
      event.preventDefault()
      setEditing(event.key)
    }
  }

  function remove(row: number) {
    const value = values.at(row)
    if (!value) return
    edit.mutate([changed(ledger, row, { remove: true })], {
      onSuccess: () =>
        notifications.show({
          message: `${longPeriod(value.period, kpi.grain)}: deleted. Ctrl Z brings it back.`,
        }),
    })
  }

  function onPaste(event: ClipboardEvent, row: number, column: Column) {
    if (editing !== null) return
    event.preventDefault()
    const made = pasted(ledger, row, column, event.clipboardData.getData('text/plain'))
    if (!('edits' in made)) {
      notifications.show({ ...(made.title ? { color: 'signal' } : {}), ...made })
      return
    }
    edit.mutate(made.edits, {
      onSuccess: () =>
        notifications.show({
          message: `${counted(made.edits.length, 'value')} saved. Ctrl Z takes back.`,
        }),
    })
  }

  return {
    frame,
    list,
    shown,
    values,
    rows,
    ledger,
    edit,
    at,
    setAt,
    editing,
    setEditing,
    go,
    keep,
    remove,
    onKey,
    onPaste,
  }
}

export function textOf(value: Value | undefined, column: Column): string {
  if (!value) return ''
  if (column === 'note') return value.note
  const { numerator, denominator } = value
  if (value.value === null) return ''
  return numerator === null || denominator === null
    ? String(value.value)
    : `${numerator} of ${denominator}`
}
