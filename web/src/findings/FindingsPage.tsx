import { Button, Group, Loader, Title } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { useEffect, useState } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { useKpis } from '../shared/kpis.ts'
import { Notice } from '../shared/Notice.tsx'
import { Pills } from '../shared/Pills.tsx'
import { Stretches } from '../shared/Stretches.tsx'
import { Filters } from './Filters.tsx'
import { FindingList, headingBy } from './FindingList.tsx'
import { FindingPanel } from './FindingPanel.tsx'
import classes from './Findings.module.css'
import { type Finding, STATES, useFindings, useLookThrough } from './findings.ts'
import { useHeld } from './held.ts'
import { Several } from './Several.tsx'
import { fileQuery, wantedOf } from './wanted.ts'

/** All findings of the workspace, what is new first: to find the next one, give it to somebody, resolve it. */
export function FindingsPage() {
  const { workspace = '' } = useParams()
  const [asked, setAsked] = useSearchParams()
  const wanted = wantedOf(asked)
  const found = useFindings(workspace, wanted)
  const kpis = useKpis(workspace)
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

  const rows = useHeld(
    found.isPlaceholderData ? null : (found.data?.findings ?? []),
    `${fileQuery(wanted)} ${wanted.start}`,
    headingBy(wanted.order),
  )
  useHotkeys(
    ['ArrowDown', 'J'].map((key) => [
      key,
      () => {
        // From wherever one stands; within the list its own keys walk.
        if (!document.activeElement?.closest('[data-log]')) rowAt(0)?.focus()
      },
    ]),
  )
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
          findings={rows.map(({ finding }) => finding).filter(({ id }) => chosen.has(id))}
          onDone={() => setChosen(new Set())}
        />
      )}
      <div className={classes.log}>
        <FindingList
          {...{ workspace, rows, opened, chosen }}
          onChoose={setChosen}
          onOpen={(finding, how) => {
            setExplaining(how === 'explain')
            if (how !== 'explain') setByKey(how === 'key')
            open(finding)
          }}
        />
        {opened !== null && (
          <aside className={`card ${classes.side}`} aria-label="Finding">
            <FindingPanel
              key={`${opened} ${explaining}`}
              explaining={explaining}
              focused={byKey}
              onExplained={() => {
                setExplaining(false)
                setByKey(false)
                const at = rows.findIndex(({ finding }) => finding.id === opened)
                ;(rowAt(at + 1) ?? rowAt(at))?.focus()
              }}
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
          that it is being looked into, <kbd>A</kbd> gives it to you, <kbd>C</kbd> explains it and{' '}
          <kbd>Enter</kbd> keeps that, <kbd>N</kbd> says that it is no signal for you, <kbd>S</kbd>{' '}
          chooses several
        </p>
      )}
    </>
  )
}

/** A row of the log, to be focused. */
function rowAt(n: number): HTMLElement | undefined {
  return [...document.querySelectorAll<HTMLElement>('[data-log] [data-row]')][n]
}
