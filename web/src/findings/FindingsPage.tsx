import { Button, Checkbox, Group, Loader, TextInput, Title } from '@mantine/core'
import { type KeyboardEvent, useEffect, useRef, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { Mark } from '../chart/layers/Mark.tsx'
import { useKpis } from '../shared/kpis.ts'
import { Notice } from '../shared/Notice.tsx'
import { Pills } from '../shared/Pills.tsx'
import { Stretches } from '../shared/Stretches.tsx'
import { useSession } from '../shared/session.ts'
import { counted } from '../shared/writing.ts'
import { Filters } from './Filters.tsx'
import { FindingPanel } from './FindingPanel.tsx'
import classes from './Findings.module.css'
import {
  type Finding,
  STATES,
  useFindingActs,
  useFindings,
  useLookThrough,
  useSeveralActs,
} from './findings.ts'
import { StatePill } from './StatePill.tsx'
import { fileQuery, wantedOf } from './wanted.ts'

/** All findings of the workspace, what is new first: to find the next one, give it to somebody, resolve it. */
export function FindingsPage() {
  const { workspace = '' } = useParams()
  const [asked, setAsked] = useSearchParams()
  const wanted = wantedOf(asked)
  const found = useFindings(workspace, wanted)
  const kpis = useKpis(workspace)
  const list = useRef<HTMLUListElement>(null)
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set())
  useLookThrough(workspace)
  const [explaining, setExplaining] = useState(false)
  const [byKey, setByKey] = useState(false)
  const opened = Number(asked.get('finding')) || null
  useEffect(() => {
    document.title = 'Findings · Fluctus'
  }, [])

  function ask(changes: Record<string, string | null>, more: { keepOpen?: boolean } = {}) {
    const next = new URLSearchParams(asked)
    for (const [name, value] of Object.entries(changes)) {
      if (value) next.set(name, value)
      else next.delete(name)
    }
    if (!more.keepOpen) for (const name of ['finding', 'start']) next.delete(name)
    setAsked(next, { replace: true })
  }

  const open = (finding: Finding | undefined) =>
    ask({ finding: finding ? String(finding.id) : null }, { keepOpen: true })

  function onKey(event: KeyboardEvent<HTMLUListElement>) {
    const rows = [...(list.current?.querySelectorAll<HTMLElement>('[data-row]') ?? [])]
    const at = rows.indexOf(document.activeElement as HTMLElement)
    const by = { ArrowDown: 1, j: 1, ArrowUp: -1, k: -1 }[event.key]
    if (at < 0 || !by) return
    event.preventDefault()
    rows[at + by]?.focus()
  }

  const rows = found.data?.findings ?? []
  const counts = found.data?.counts
  const start = wanted.start ?? 0
  const query = fileQuery(wanted)
  return (
    <>
      <Group justify="space-between" mb="xs">
        <Title order={1} size={25}>
          Findings
        </Title>
        <Button
          component="a"
          variant="default"
          href={`/api/v1/workspaces/${workspace}/findings.csv?${query}`}
        >
          Export as CSV
        </Button>
      </Group>
      <Pills
        legend="State"
        options={[
          {
            value: 'all',
            label: 'All',
            count: counts && Object.values(counts).reduce((sum, one) => sum + one, 0),
          },
          ...STATES.map(([value, label]) => ({ value, label, count: counts?.[value] })),
        ]}
        pressed={(value) =>
          value === 'all' ? !wanted.state?.length : (wanted.state?.includes(value) ?? false)
        }
        onPress={(value) =>
          ask({ state: value === 'all' || wanted.state?.includes(value) ? null : value })
        }
      />
      <Filters
        wanted={wanted}
        asked={asked}
        kpis={kpis.data ?? []}
        people={found.data?.people ?? []}
        onAsk={ask}
      />
      {found.isPending && <Loader role="status" aria-label="Loading" />}
      {found.error && <Notice error={found.error} retry={found.refetch} />}
      {found.data && rows.length === 0 && (
        <p>
          {asked.size
            ? 'No finding is like that. Ask for more.'
            : 'No findings: every chart shows routine variation.'}
        </p>
      )}
      {chosen.size > 0 && (
        <Several
          workspace={workspace}
          findings={rows.filter((row) => chosen.has(row.id))}
          onDone={() => setChosen(new Set())}
        />
      )}
      <div className={`${classes.log} ${opened ? classes.open : ''}`}>
        <ul className={classes.rows} ref={list} onKeyDown={onKey} aria-label="Findings">
          {rows.map((finding, n) => (
            <li key={finding.id}>
              {headingOf(finding) !== headingOf(rows[n - 1]) && (
                <h2 className={classes.heading}>{headingOf(finding)}</h2>
              )}
              <Row
                chosen={chosen.has(finding.id)}
                onChoose={() => {
                  const next = new Set(chosen)
                  if (!next.delete(finding.id)) next.add(finding.id)
                  setChosen(next)
                }}
                finding={finding}
                current={finding.id === opened}
                workspace={workspace}
                onOpen={(byKey) => {
                  setExplaining(false)
                  setByKey(byKey)
                  open(finding)
                }}
                onExplain={() => {
                  setExplaining(true)
                  open(finding)
                }}
              />
            </li>
          ))}
        </ul>
        {opened !== null && (
          <aside className={`card ${classes.side}`} aria-label="Finding">
            <FindingPanel
              key={`${opened} ${explaining}`}
              explaining={explaining}
              focused={byKey}
              workspace={workspace}
              number={opened}
              elsewhere
              onClose={() => open(undefined)}
            />
          </aside>
        )}
      </div>
      <Stretches
        {...{ start }}
        shown={rows.length}
        count={found.data?.count ?? 0}
        onStart={(next) => ask({ start: String(next) }, { keepOpen: true })}
      />
      {rows.length > 0 && (
        <p className={classes.hint}>
          <kbd>↓</kbd> <kbd>↑</kbd> go through them, <kbd>Enter</kbd> opens one, <kbd>L</kbd> says
          that it is being looked into, <kbd>A</kbd> gives it to you, <kbd>C</kbd> explains it,{' '}
          <kbd>S</kbd> chooses several
        </p>
      )}
    </>
  )
}

/** Where a finding stands in the log: what is new first, then what has no cause. */
function headingOf(finding: Finding | undefined): string {
  if (!finding) return ''
  if (finding.is_new) return 'New since you last looked'
  return finding.state === 'open' || finding.state === 'looking' ? 'Without a cause' : 'The rest'
}

/** One cause for several findings. */
function Several({
  workspace,
  findings,
  onDone,
}: {
  workspace: string
  findings: Finding[]
  onDone: () => void
}) {
  const [cause, setCause] = useState('')
  const several = useSeveralActs(workspace, onDone)
  const changes = { state: 'explained' as const, cause: cause.trim() }
  return (
    <form
      className={`card ${classes.several}`}
      aria-label="One cause for several findings"
      onSubmit={(event) => {
        event.preventDefault()
        if (changes.cause) several.mutate({ findings, changes })
      }}
    >
      <b>{counted(findings.length, 'finding')} chosen</b>
      <Button component={Link} size="xs" variant="default" to={meetingOf(workspace, findings)}>
        Show in a meeting
      </Button>
      <TextInput
        size="xs"
        style={{ flex: 1 }}
        aria-label="Their cause"
        placeholder="The cause of all of them"
        maxLength={500}
        value={cause}
        onChange={(event) => setCause(event.currentTarget.value)}
      />
      <Button size="xs" type="submit" disabled={!changes.cause} loading={several.isPending}>
        Explain them
      </Button>
      <Button size="xs" variant="default" onClick={onDone}>
        Choose none
      </Button>
    </form>
  )
}

function Row({
  finding,
  current,
  chosen,
  onChoose,
  workspace,
  onOpen,
  onExplain,
}: {
  finding: Finding
  current: boolean
  chosen: boolean
  onChoose: () => void
  workspace: string
  onOpen: (byKey: boolean) => void
  onExplain: () => void
}) {
  const me = useSession().data?.username
  const { change } = useFindingActs(workspace)
  const row = (
    <button
      type="button"
      data-row
      className={classes.row}
      aria-current={current}
      // A press of a key is a click without a pointer.
      onClick={(event) => onOpen(event.detail === 0)}
      onKeyDown={(event) => {
        if (event.ctrlKey || event.metaKey || event.altKey) return
        const key = event.key.toLowerCase()
        if (key === 'l' && finding.state === 'open')
          change.mutate({ finding, changes: { state: 'looking' } })
        else if (key === 'a' && me && finding.person !== me)
          change.mutate({ finding, changes: { person: me } })
        else if (key === 's') onChoose()
        else if (key === 'c') {
          // Or the letter would be typed into the field that takes the focus.
          event.preventDefault()
          onExplain()
        }
      }}
    >
      <svg width={18} height={18} aria-hidden="true" focusable="false">
        <Mark kind={finding.mark} x={9} y={9} />
      </svg>
      <span className="quiet">{finding.label}</span>
      <span title={finding.kpi_name}>{finding.kpi_name}</span>
      <span title={`${finding.title}. ${finding.text}`}>
        <b>{finding.title}</b>
        {finding.evidence.length > 0 && ` +${finding.evidence.length}`}{' '}
        {finding.cause || finding.text}
      </span>
      <span>
        <StatePill finding={finding} />
      </span>
      <span className="quiet">{finding.person_name}</span>
    </button>
  )
  return (
    <div className={classes.chooser}>
      <Checkbox
        size="xs"
        tabIndex={-1}
        aria-label={`Choose ${finding.title} of ${finding.label}`}
        checked={chosen}
        onChange={onChoose}
      />
      {row}
    </div>
  )
}

/** Where the charts of some findings are shown, one after the other. */
function meetingOf(workspace: string, findings: Finding[]): string {
  const query = new URLSearchParams()
  for (const { kpi, id } of findings) {
    query.append('kpi', kpi)
    query.append('finding', String(id))
  }
  return `/${workspace}/meeting?${query}`
}
