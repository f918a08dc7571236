import { ActionIcon, Menu, Skeleton } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { IconDots } from '@tabler/icons-react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { type ClipboardEvent, type KeyboardEvent, useEffect, useRef, useState } from 'react'
import type { Chart } from '../chart/model/types.ts'
import type { Place } from '../chart-page/data/chart.ts'
import { Notice } from '../shared/Notice.tsx'
import { counted, formatNumber, longPeriod } from '../shared/writing.ts'
import { AsideForm } from './AsideForm.tsx'
import { Cell } from './Cell.tsx'
import { History } from './ValueHistory.tsx'
import classes from './Values.module.css'
import { type Edit, typedNumber, useEditValues, useValues, type Value } from './values.ts'

interface Props {
  place: Place
  kpi: Chart['kpi']
  breakdown: string | null
}

type Column = 'value' | 'note'
const ROW = 34
const COLUMNS: Column[] = ['value', 'note']

/** The values, oldest first, with a row at the end for the next period; only what is seen is there. */
export function Ledger({ place, kpi, breakdown }: Props) {
  const frame = useRef<HTMLDivElement>(null)
  const [seen, setSeen] = useState<[number, number]>([0, 0])
  const values = useValues(place, breakdown, seen[0], seen[1])
  const { next } = values
  const edit = useEditValues(place)
  const [at, setAt] = useState<{ row: number; column: Column } | null>(null)
  const [editing, setEditing] = useState<string | null>(null)
  const [aside, setAside] = useState<Value | null>(null)
  const [history, setHistory] = useState<Value | null>(null)
  const parts = kpi.breakdowns.length > 0
  // A new value needs a breakdown to belong to.
  const open = next !== null && (!parts || breakdown !== null)
  const rows = values.count + (open ? 1 : 0)
  const list = useVirtualizer({
    count: rows,
    getScrollElement: () => frame.current,
    estimateSize: () => ROW,
    overscan: 12,
  })
  const shown = list.getVirtualItems()
  const from = shown[0]?.index ?? 0
  const to = shown.at(-1)?.index ?? 0
  useEffect(() => setSeen([from, to]), [from, to])
  const begun = useRef(false)
  // The newest values are what most come for.
  useEffect(() => {
    if (begun.current || rows === 0 || !frame.current) return
    begun.current = true
    frame.current.scrollTop = frame.current.scrollHeight
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

  function changed(row: number, changes: Partial<Edit>): Edit {
    const value = values.at(row)
    if (!value) return { period: next?.period ?? '', breakdown: breakdown ?? '', ...changes }
    return {
      period: value.period,
      breakdown: value.breakdown,
      value: value.value,
      note: value.note,
      set_aside: value.set_aside,
      reason: value.reason,
      seen: value.version,
      ...changes,
    }
  }

  function keep(row: number, column: Column, text: string, by: number) {
    setEditing(null)
    const value = values.at(row)
    go(row + by, column)
    if (column === 'note') {
      if (value && text !== value.note) edit.mutate([changed(row, { note: text })])
      return
    }
    const number = typedNumber(text)
    if (number === null || number === value?.value) return
    edit.mutate([changed(row, { value: number })])
  }

  function onKey(event: KeyboardEvent, row: number, column: Column) {
    if (editing !== null || event.ctrlKey || event.metaKey || event.altKey) return
    const moves: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      PageUp: [-12, 0],
      PageDown: [12, 0],
      Home: [-rows, 0],
      End: [rows, 0],
    }
    const move = moves[event.key]
    if (move) {
      event.preventDefault()
      const next = COLUMNS[COLUMNS.indexOf(column) + move[1]] ?? column
      go(row + move[0], next)
    } else if (event.key === 'Enter' || event.key === 'F2') {
      event.preventDefault()
      setEditing(textOf(values.at(row), column))
    } else if (event.key === 'Delete' && values.at(row)) {
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
    edit.mutate([changed(row, { remove: true })], {
      onSuccess: () =>
        notifications.show({
          message: `${longPeriod(value.period, kpi.grain)}: deleted. Ctrl Z brings it back.`,
        }),
    })
  }

  function onPaste(event: ClipboardEvent, row: number, column: Column) {
    if (editing !== null) return
    const block = event.clipboardData.getData('text/plain').replace(/\r?\n$/, '')
    const lines = block.split(/\r?\n/).map((line) => line.split('\t'))
    event.preventDefault()
    if (column === 'note') {
      edit.mutate(
        lines
          .slice(0, values.count - row)
          .map((cells, n) => changed(row + n, { note: (cells[0] ?? '').slice(0, 500) })),
      )
      return
    }
    const numbers = lines.map((cells) => typedNumber(cells[0] ?? ''))
    const wrong = numbers.indexOf(null)
    if (wrong >= 0) {
      notifications.show({
        color: 'signal',
        title: 'Nothing was pasted.',
        message: `Row ${wrong + 1} of the block, “${lines[wrong]?.[0] ?? ''}”, is not a number. For a table with dates use “Add from a table”.`,
      })
      return
    }
    if (numbers.some((_, n) => row + n < values.count && !values.at(row + n))) {
      notifications.show({ message: 'Some of these rows are still loading. Paste again.' })
      return
    }
    const edits = numbers.map((value, n) => {
      const place = row + n
      const note = lines[n]?.[1]
      const extra = note === undefined ? {} : { note: note.slice(0, 500) }
      if (place < values.count) return changed(place, { value, ...extra })
      return {
        period: `+${place - values.count + 1}`,
        breakdown: breakdown ?? '',
        value,
        seen: null,
        ...extra,
      }
    })
    if (!open && row + numbers.length > values.count) {
      notifications.show({ message: 'Choose a breakdown first, so that new values belong to one.' })
      return
    }
    edit.mutate(edits, {
      onSuccess: () =>
        notifications.show({
          message: `${counted(edits.length, 'value')} saved. Ctrl Z takes back.`,
        }),
    })
  }

  if (values.error) return <Notice error={values.error} retry={values.refetch} />
  if (values.pending) return <Skeleton height={400} aria-label="Loading the values" />
  const tracks = `150px ${parts ? '130px ' : ''}120px minmax(140px, 1fr) minmax(120px, 0.8fr) 200px 36px`
  const heads = [
    'Period',
    ...(parts ? ['Breakdown'] : []),
    `Value${kpi.unit ? `, ${kpi.unit}` : ''}`,
    'Note',
    'Set aside',
    'Written by',
    'More',
  ]
  return (
    <div className={`card ${classes.ledger}`}>
      <div
        ref={frame}
        className={classes.frame}
        role="grid"
        aria-label={`Values of ${kpi.name}`}
        aria-rowcount={rows + 1}
        aria-colcount={heads.length}
      >
        <div
          role="row"
          aria-rowindex={1}
          className={classes.headRow}
          style={{ gridTemplateColumns: tracks }}
        >
          {heads.map((head) => (
            <div key={head} role="columnheader">
              {head}
            </div>
          ))}
        </div>
        <div role="rowgroup" style={{ height: list.getTotalSize(), position: 'relative' }}>
          {shown.map(({ index, start }) => {
            const value = values.at(index)
            const isNew = index === values.count
            const period = value?.period ?? (isNew ? next?.period : undefined)
            const focused = (column: Column) => at?.row === index && at.column === column
            return (
              <div
                key={index}
                role="row"
                aria-rowindex={index + 2}
                className={classes.row}
                data-aside={value?.set_aside || undefined}
                data-new={isNew || undefined}
                style={{ gridTemplateColumns: tracks, transform: `translateY(${start}px)` }}
              >
                <div role="rowheader">{period ? longPeriod(period, kpi.grain) : '…'}</div>
                {parts && <div role="gridcell">{value?.breakdown ?? breakdown}</div>}
                {COLUMNS.map((column) => (
                  <Cell
                    key={column}
                    name={`${index} ${column}`}
                    label={`${column === 'value' ? 'Value' : 'Note'} of ${period ? longPeriod(period, kpi.grain) : ''}`}
                    text={shownText(value, column, kpi.decimals)}
                    hint={isNew && column === 'value' ? 'next value' : ''}
                    numeric={column === 'value'}
                    off={isNew && column === 'note'}
                    reachable={focused(column) || (at === null && isNew && column === 'value')}
                    editing={focused(column) ? editing : null}
                    onFocus={() => !focused(column) && setAt({ row: index, column })}
                    onEdit={setEditing}
                    onStart={() => setEditing(textOf(value, column))}
                    onKeep={(text, by) => keep(index, column, text, by)}
                    onLeave={() => {
                      setEditing(null)
                      go(index, column)
                    }}
                    onKey={(event) => onKey(event, index, column)}
                    onPaste={(event) => onPaste(event, index, column)}
                  />
                ))}
                <div role="gridcell" title={value?.reason}>
                  {value?.set_aside ? value.reason : ''}
                </div>
                <div role="gridcell" className="quiet" title={value?.act}>
                  {value && written(value)}
                </div>
                <div role="gridcell">
                  {value && (
                    <Menu position="bottom-end">
                      <Menu.Target>
                        <ActionIcon
                          variant="subtle"
                          size="sm"
                          aria-label={`More for ${longPeriod(value.period, kpi.grain)}${value.breakdown && `, ${value.breakdown}`}`}
                        >
                          <IconDots size={15} />
                        </ActionIcon>
                      </Menu.Target>
                      <Menu.Dropdown>
                        <Menu.Item onClick={() => setHistory(value)}>History</Menu.Item>
                        {value.set_aside ? (
                          <Menu.Item
                            onClick={() =>
                              edit.mutate([changed(index, { set_aside: false, reason: '' })])
                            }
                          >
                            Put back among the others
                          </Menu.Item>
                        ) : (
                          <Menu.Item onClick={() => setAside(value)}>Set aside…</Menu.Item>
                        )}
                        <Menu.Item onClick={() => remove(index)}>Delete</Menu.Item>
                      </Menu.Dropdown>
                    </Menu>
                  )}
                </div>
              </div>
            )
          })}
        </div>
      </div>
      <AsideForm
        value={aside}
        grain={kpi.grain}
        saving={edit.isPending}
        onClose={() => setAside(null)}
        onKeep={(value, reason) =>
          edit.mutate(
            [
              {
                period: value.period,
                breakdown: value.breakdown,
                value: value.value,
                note: value.note,
                set_aside: true,
                reason,
                seen: value.version,
              },
            ],
            { onSettled: () => setAside(null) },
          )
        }
      />
      <History place={place} value={history} kpi={kpi} onClose={() => setHistory(null)} />
    </div>
  )
}

function textOf(value: Value | undefined, column: Column): string {
  if (!value) return ''
  return column === 'value' ? String(value.value) : value.note
}

function shownText(value: Value | undefined, column: Column, decimals: number): string {
  if (!value) return ''
  return column === 'value' ? formatNumber(value.value, decimals) : value.note
}

function written(value: Value): string {
  const at = new Date(value.at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })
  return [value.author || 'came with the KPI', at].join(', ')
}
