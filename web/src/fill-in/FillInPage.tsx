import { Button, Loader, Title } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { type ClipboardEvent, type KeyboardEvent, useEffect, useRef, useState } from 'react'
import { Link, useParams } from 'react-router'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { Pills } from '../shared/Pills.tsx'
import { useSession } from '../shared/session.ts'
import { counted } from '../shared/writing.ts'
import { DueRow } from './DueRow.tsx'
import { keyOf } from './drafts.ts'
import classes from './FillIn.module.css'
import { type DueValue, useDue } from './fillIn.ts'
import { Leftover } from './Leftover.tsx'
import { useFilling } from './useFilling.ts'

type Whose = 'all' | 'mine' | 'open'

/** The weekly ten minutes: every value that is due and typed by hand, one field each. */
export function FillInPage() {
  const { workspace = '' } = useParams()
  const due = useDue(workspace)
  const may = useMay()
  const username = useSession().data?.username ?? null
  const [chosen, setChosen] = useState<Whose | null>(null)
  const list = useRef<HTMLDivElement>(null)
  useEffect(() => {
    document.title = 'To fill in · Fluctus'
  }, [])
  const head = due.data?.pages[0]
  const all = due.data?.pages.flatMap(({ values }) => values) ?? []
  const isMine = (value: DueValue) => value.filled_by?.username === username
  const isOpen = (value: DueValue) => value.filled_by === null
  // Who is to see to some begins with those.
  const whose = chosen ?? (all.some(isMine) ? 'mine' : 'all')
  const shown = all.filter(whose === 'mine' ? isMine : whose === 'open' ? isOpen : () => true)
  const filling = useFilling(workspace, shown)

  const fields = () => [
    ...(list.current?.querySelectorAll<HTMLInputElement>('input[data-due]') ?? []),
  ]
  const onKey = (at: number) => (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault()
      void filling.save()
      return
    }
    const by = { Enter: event.shiftKey ? -1 : 1, ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (by === undefined) return
    event.preventDefault()
    const goal = fields()[at + by]
    if (goal) goal.focus()
    else if (by > 0) document.getElementById('save-filled')?.focus()
  }
  const onPaste = (at: number) => (event: ClipboardEvent<HTMLInputElement>) => {
    const block = event.clipboardData.getData('text/plain')
    if (!/[\n\t]/.test(block.trim())) return
    event.preventDefault()
    const left = filling.paste(at, block)
    if (left > 0)
      notifications.show({
        message: `${counted(left, 'line')} of what was pasted found no row and went nowhere.`,
      })
  }

  return (
    <>
      <Title order={1} size={25} mb={4}>
        To fill in
      </Title>
      <p className="quiet">
        Values that are due and typed by hand.{' '}
        <span className={classes.keys}>
          <kbd>Enter</kbd> goes to the next one, a column can be pasted, <kbd>Ctrl Enter</kbd>{' '}
          saves.
        </span>{' '}
        What is typed stays on this device until it is saved.
      </p>
      {due.isPending && <Loader role="status" aria-label="Loading" />}
      {due.error && <Notice error={due.error} retry={due.refetch} />}
      {head && all.length > 0 && (
        <Pills<Whose>
          legend="Whose values"
          options={[
            { value: 'all', label: 'All', count: head.count },
            { value: 'mine', label: 'Mine', count: kpisIn(all.filter(isMine)) },
            { value: 'open', label: 'Anybody’s', count: kpisIn(all.filter(isOpen)) },
          ]}
          pressed={(value) => value === whose}
          onPress={setChosen}
        />
      )}
      {head && shown.length === 0 && <Nothing workspace={workspace} others={all.length > 0} />}
      <div ref={list}>
        {grouped(shown).map(({ group, rows }) => (
          <section key={group} aria-label={group || 'Without a group'}>
            {group && <h2 className={classes.group}>{group}</h2>}
            <ul className={`card ${classes.rows}`}>
              {rows.map(({ value, at }) => (
                <DueRow
                  key={keyOf(value)}
                  {...{ workspace, value, filling }}
                  may={may.add}
                  edits={may.edit}
                  onKey={onKey(at)}
                  onPaste={onPaste(at)}
                />
              ))}
            </ul>
          </section>
        ))}
      </div>
      {due.hasNextPage && (
        <Button
          variant="default"
          mt="md"
          loading={due.isFetchingNextPage}
          onClick={() => due.fetchNextPage()}
        >
          Show more of {counted(head?.count ?? 0, 'KPI')}
        </Button>
      )}
      {due.data && <Leftover filling={filling} due={all} whole={!due.hasNextPage} />}
      {head && head.resting.length > 0 && (
        <details className={`card ${classes.left}`}>
          <summary>
            {counted(head.resting.length, 'KPI')} without a value for more than six periods
          </summary>
          <ul>
            {head.resting.map(({ kpi, name, last_label }) => (
              <li key={kpi}>
                <Link to={`/${workspace}/charts/${kpi}/values`}>{name}</Link>
                <span className="quiet">last {last_label}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
      {may.add && (all.length > 0 || filling.count > 0) && <Bar filling={filling} />}
    </>
  )
}

function Bar({ filling }: { filling: ReturnType<typeof useFilling> }) {
  const { count, sending, left } = filling
  return (
    <div className={classes.bar}>
      <Button
        id="save-filled"
        disabled={count === 0}
        loading={sending === 'sending'}
        onClick={() => filling.save()}
      >
        {count === 0 ? 'Save' : `Save ${counted(count, 'value')}`}
      </Button>
      <span role="status" className="quiet">
        {sending === 'sending' && left > count && `${left.toLocaleString('en-US')} left`}
        {sending === 'waiting' &&
          'Fluctus cannot be reached. What is typed is kept on this device, and sent when the connection is back.'}
        {sending === 'idle' && count > 0 && 'Saved as one, and undone as one.'}
      </span>
    </div>
  )
}

function Nothing({ workspace, others }: { workspace: string; others: boolean }) {
  return (
    <div className={`card ${classes.left}`} role="status">
      <b>{others ? 'Nothing of these is due.' : 'Nothing is due.'}</b>
      <p className="quiet">
        A value is asked for when its period is over. Those by the hour, and those that a feed or
        another KPI brings, are not asked for here: <Link to={`/${workspace}/data`}>Data</Link> has
        what comes by itself.
      </p>
    </div>
  )
}

const kpisIn = (values: DueValue[]) => new Set(values.map(({ kpi }) => kpi)).size

function grouped(values: DueValue[]) {
  const groups = new Map<string, { value: DueValue; at: number }[]>()
  values.forEach((value, at) => {
    const rows = groups.get(value.group) ?? []
    groups.set(value.group, [...rows, { value, at }])
  })
  return [...groups].map(([group, rows]) => ({ group, rows }))
}
