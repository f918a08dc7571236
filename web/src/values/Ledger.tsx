import { Skeleton } from '@mantine/core'
import { type CSSProperties, Fragment, useState } from 'react'
import type { Chart } from '../chart/model/types.ts'
import type { KpiPath } from '../chart-page/data/chart.ts'
import { useInHand } from '../shared/inHand.ts'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { formatNumber, plainNumber } from '../shared/numbers.ts'
import { longPeriod } from '../shared/writing.ts'
import { About } from './About.tsx'
import { AsideForm } from './AsideForm.tsx'
import { Cell } from './Cell.tsx'
import { asEdit, type Column, changed } from './edits.ts'
import { FromTheChart } from './FromTheChart.tsx'
import { NoneThere } from './NoneThere.tsx'
import { COLUMNS, textOf, useLedger } from './useLedger.ts'
import { History } from './ValueHistory.tsx'
import classes from './Values.module.css'
import type { Value, Wanted } from './values.ts'

interface Props {
  path: KpiPath
  kpi: Chart['kpi']
  wanted: Wanted
  /** Whether there is a target to meet. */
  target: boolean
}

/** The values, oldest first, with a row at the end for the next period; only what is seen is there. */
export function Ledger({ path, kpi, wanted, target }: Props) {
  const allowed = useMay()
  // What follows others is written there.
  const may = kpi.derivation?.follows ? { ...allowed, add: false, edit: false } : allowed
  const {
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
  } = useLedger(path, kpi, wanted, may.add)
  useInHand(editing !== null)
  const { next } = values
  const [aside, setAside] = useState<Value | null>(null)
  const [history, setHistory] = useState<Value | null>(null)
  const parts = kpi.breakdowns.length > 0

  if (values.error) return <Notice error={values.error} retry={values.refetch} />
  if (values.pending) return <Skeleton height={400} aria-label="Loading the values" />
  const columns = columnsOf(kpi, target, values.segments > 1)
  const tracks = columns.map(([, width]) => width).join(' ')
  const heads = columns.map(([head]) => head)
  if (values.count === 0 && rows === 0) return <NoneThere wanted={wanted} />
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
        <Heads heads={heads} tracks={tracks} />
        <div role="rowgroup" style={{ height: list.getTotalSize(), position: 'relative' }}>
          {shown.map(({ index, start }) => {
            const value = values.at(index)
            const isNew = index === values.count
            const period = value?.period ?? (isNew ? next?.period : undefined)
            const named = period ? longPeriod(period, kpi.grain) : ''
            const onChart = `/${path.workspace}/charts/${path.kpi}?point=${period}`
            const focused = (column: Column) => at?.row === index && at.column === column
            return (
              <div
                key={index}
                role="row"
                aria-rowindex={index + 2}
                className={classes.row}
                data-aside={value?.set_aside || undefined}
                data-new={isNew || undefined}
                style={{ '--tracks': tracks, transform: `translateY(${start}px)` } as CSSProperties}
              >
                <div role="rowheader" data-in="period">
                  {named || '…'}
                </div>
                {parts && (
                  <div role="gridcell" data-in="part">
                    {value?.breakdown ?? wanted.breakdown}
                  </div>
                )}
                {COLUMNS.map((column) => (
                  <Fragment key={column}>
                    {column === 'note' && (
                      <FromTheChart
                        kpi={kpi}
                        value={value}
                        point={values.pointOf(index)}
                        target={target}
                        segments={values.segments > 1}
                        onChart={onChart}
                      />
                    )}
                    <Cell
                      name={`${index} ${column}`}
                      label={`${column === 'value' ? 'Value' : 'Note'} of ${named}`}
                      text={shownText(value, column, kpi.decimals)}
                      hint={isNew && column === 'value' ? ledger.typing.hint : ''}
                      wrong={ledger.typing.wrong}
                      numeric={column === 'value'}
                      off={(isNew || value?.version === null) && column === 'note'}
                      reachable={focused(column) || (at === null && isNew && column === 'value')}
                      editing={focused(column) ? editing : null}
                      onFocus={() => !focused(column) && setAt({ row: index, column })}
                      onEdit={setEditing}
                      onStart={() => may.add && setEditing(textOf(value, column))}
                      onKeep={(text, by) => keep(index, column, text, by)}
                      onLeave={() => {
                        setEditing(null)
                        go(index, column)
                      }}
                      onKey={(event) => onKey(event, index, column)}
                      onPaste={(event) => onPaste(event, index, column)}
                    />
                  </Fragment>
                ))}
                <About
                  value={value}
                  named={named}
                  may={may}
                  fed={values.fed}
                  onChart={onChart}
                  onHistory={setHistory}
                  onAside={setAside}
                  onPutBack={() =>
                    edit.mutate([changed(ledger, index, { set_aside: false, reason: '' })])
                  }
                  onRemove={() => remove(index)}
                  onRelease={() => edit.mutate([changed(ledger, index, { release: true })])}
                />
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
          edit.mutate([{ ...asEdit(value), set_aside: true, reason }], {
            onSettled: () => setAside(null),
          })
        }
      />
      <History path={path} value={history} kpi={kpi} onClose={() => setHistory(null)} />
    </div>
  )
}

function Heads({ heads, tracks }: { heads: string[]; tracks: string }) {
  return (
    <div
      role="row"
      aria-rowindex={1}
      className={classes.headRow}
      style={{ '--tracks': tracks } as CSSProperties}
    >
      {heads.map((head) => (
        <div key={head} role="columnheader">
          {head}
        </div>
      ))}
    </div>
  )
}

/** The heads of the columns, each with how wide it is. */
function columnsOf(kpi: Chart['kpi'], target: boolean, segments: boolean): [string, string][] {
  const only = (there: boolean, column: [string, string]) => (there ? [column] : [])
  return [
    ['Period', '160px'],
    ...only(kpi.breakdowns.length > 0, ['Breakdown', '110px']),
    [`Value${kpi.unit ? `, ${kpi.unit}` : ''}`, `${kpi.aggregation === 'ratio' ? 170 : 100}px`],
    ['Moving range', '100px'],
    ['What the chart says', 'minmax(150px, 1.3fr)'],
    ...only(target, ['Target', '68px']),
    ...only(segments, ['Segment', 'minmax(84px, 0.8fr)']),
    ['Note', 'minmax(90px, 0.9fr)'],
    ['Written by', '140px'],
    ['More', '36px'],
  ]
}

function shownText(value: Value | undefined, column: Column, decimals: number): string {
  if (!value) return ''
  if (column === 'note') return value.note
  const { numerator, denominator } = value
  if (value.value === null) return ''
  const text = formatNumber(value.value, decimals)
  return numerator === null || denominator === null
    ? text
    : `${text} (${plainNumber(numerator)} of ${plainNumber(denominator)})`
}
