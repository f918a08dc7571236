import { Button, Group, Select, Title } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { useEffect, useState } from 'react'
import { Link, useParams } from 'react-router'
import { useChartActs } from '../chart-page/data/acts.ts'
import { useChart } from '../chart-page/data/chart.ts'
import { useAddress } from '../shared/looking/useDates.ts'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { subtitle } from '../shared/writing.ts'
import { Ledger } from './Ledger.tsx'
import { LookFor } from './LookFor.tsx'
import classes from './Values.module.css'
import type { Only, Wanted } from './values.ts'

const VIEW = { width: 300 }

/** All values of a KPI, to be looked through, put right and added to. */
export function ValuesPage() {
  const { workspace = '', kpi = '' } = useParams()
  return <KpiValues key={`${workspace} ${kpi}`} workspace={workspace} kpi={kpi} />
}

function KpiValues({ workspace, kpi }: { workspace: string; kpi: string }) {
  const path = { workspace, kpi }
  const chart = useChart(path, VIEW)
  const acts = useChartActs(path, VIEW)
  const [breakdown, setBreakdown] = useState<string | null>(null)
  const { address, ask } = useAddress()
  const wanted: Wanted = {
    breakdown,
    only: (address.get('only') as Only | null) ?? null,
    by: address.get('by'),
  }
  const saved = chart.data
  const may = useMay()
  const busy = acts.undo.isPending || acts.redo.isPending
  useHotkeys([
    ['mod+Z', () => may.add && saved?.history.undo && !busy && acts.undo.mutate(undefined)],
    ['mod+shift+Z', () => may.add && saved?.history.redo && !busy && acts.redo.mutate(undefined)],
  ])
  useEffect(() => {
    document.title = `Values of ${saved?.kpi.name ?? '…'} · Fluctus`
  }, [saved])

  if (chart.error) return <Notice error={chart.error} retry={chart.refetch} />
  const parts = saved?.kpi.breakdowns ?? []
  const target =
    saved !== undefined &&
    (saved.kpi.target !== null || saved.targets !== null) &&
    (saved.kpi.direction !== 'neither' || saved.kpi.target_high !== null)
  return (
    <>
      <header className={classes.head}>
        <Title order={1} size={25}>
          Values of {saved?.kpi.name ?? '…'}
        </Title>
        {saved && <span className="quiet">{subtitle(saved)}</span>}
        <Group gap="xs" ml="auto">
          {parts.length > 0 && (
            <Select
              size="xs"
              w={150}
              aria-label="Breakdown"
              placeholder="Every breakdown"
              data={parts}
              clearable
              value={breakdown}
              onChange={setBreakdown}
            />
          )}
          {may.add && (
            <>
              <Button
                size="xs"
                variant="default"
                disabled={!saved?.history.undo || busy}
                onClick={() => acts.undo.mutate(undefined)}
              >
                Undo
              </Button>
              <Button
                size="xs"
                variant="default"
                disabled={!saved?.history.redo || busy}
                onClick={() => acts.redo.mutate(undefined)}
              >
                Redo
              </Button>
              <Button
                size="xs"
                variant="default"
                component={Link}
                to={`/${workspace}/charts/${kpi}/add`}
              >
                Add from a table
              </Button>
            </>
          )}
          <Button size="xs" component={Link} to={`/${workspace}/charts/${kpi}`}>
            Back to the chart
          </Button>
        </Group>
      </header>
      {saved?.kpi.derivation?.follows ? (
        <p className={classes.help}>
          These values follow {saved.kpi.derivation.sources.map(({ name }) => name).join(' and ')}:
          change them there.
        </p>
      ) : may.add ? (
        <p className={classes.help}>
          {saved?.kpi.aggregation === 'ratio' &&
            'Write both numbers of the ratio, as in 92 of 98. '}
          <span className={classes.byKeys}>
            Type to write a value, <kbd>Enter</kbd> keeps it and goes down, <kbd>Esc</kbd> leaves
            it. Paste a column of numbers to write many. <kbd>Ctrl Z</kbd> takes back.
          </span>
          <span className={classes.byTouch}>Tap a value or a note to write it.</span>
        </p>
      ) : (
        <p className={classes.help}>
          You may look at these values; contributors and editors can change them.
        </p>
      )}
      {saved && (
        <>
          <div className={classes.lookFor}>
            <LookFor
              path={path}
              wanted={wanted}
              target={target}
              gaps={parts.length === 0 || breakdown !== null}
              onWant={ask}
            />
          </div>
          <Ledger
            key={`${wanted.only} ${wanted.by}`}
            path={path}
            kpi={saved.kpi}
            wanted={wanted}
            target={target}
          />
        </>
      )}
    </>
  )
}
