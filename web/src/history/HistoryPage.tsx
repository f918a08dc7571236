import { Button, Group, Loader, Title } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useEffect, useState } from 'react'
import { Link, useParams } from 'react-router'
import { useChartActs } from '../chart-page/data/acts.ts'
import { useChart } from '../chart-page/data/chart.ts'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { moment } from '../shared/writing.ts'
import { useActs } from './acts.ts'
import classes from './History.module.css'

const VIEW = { width: 100 }
const UNDONE = ['undone', 'replaced']

/** Everything that was done to a chart: who, when, what; and the way back to an earlier state. */
export function HistoryPage() {
  const { workspace = '', kpi = '' } = useParams()
  const path = { workspace, kpi }
  const chart = useChart(path, VIEW)
  const [before, setBefore] = useState<number | null>(null)
  const history = useActs(path, before)
  const acts = useChartActs(path, VIEW)
  const name = chart.data?.kpi.name ?? ''
  useEffect(() => {
    document.title = `History of ${name} · Fluctus`
  }, [name])
  const rows = history.data?.acts ?? []
  // An act names the revision it is done on, which comes with the chart.
  const may = useMay()
  const ready = may.edit && chart.data !== undefined && !acts.restore.isPending

  function restore(act: number | null) {
    acts.restore.mutate(act, {
      onSuccess: () =>
        notifications.show({ message: 'The chart is as it was then. Undo takes this back.' }),
    })
  }

  return (
    <>
      <Group justify="space-between" mb={4}>
        <Title order={1} size={25}>
          History of {name || 'the chart'}
        </Title>
        <Button component={Link} variant="default" to={`/${workspace}/charts/${kpi}`}>
          Back to the chart
        </Button>
      </Group>
      <p className="quiet">
        Bringing the chart back restores its segments, limits, rules, target and names, and which
        points are set aside. Values stay as they are; each has a history of its own, in their
        table.
      </p>
      {history.isPending && <Loader role="status" aria-label="Loading" />}
      {history.error && <Notice error={history.error} retry={history.refetch} />}
      {history.data?.acts.length === 0 && before === null && (
        <p>Nothing has been done to this chart since it came.</p>
      )}
      <ol className={classes.acts}>
        {rows.map((act, n) => {
          const newest = before === null && n === 0 && act.state === 'kept'
          return (
            <li key={act.id} data-state={act.state}>
              <div>
                {act.summary}
                {UNDONE.includes(act.state) && <span className="quiet"> (undone)</span>}
                <small>
                  {act.author || 'No name'}, {moment(act.at)}
                  {act.turned_at &&
                    `; ${UNDONE.includes(act.state) ? 'undone' : 'redone'} by ${act.turned_by || 'no name'}, ${moment(act.turned_at)}`}
                </small>
              </div>
              {!newest && (
                <Button
                  size="compact-sm"
                  variant="default"
                  disabled={!ready}
                  aria-label={`Bring the chart back to after: ${act.summary}`}
                  onClick={() => restore(act.id)}
                >
                  Bring back
                </Button>
              )}
            </li>
          )
        })}
        {history.data?.older === false && rows.length > 0 && (
          <li>
            <div>
              As it came
              <small>before anything was done to it</small>
            </div>
            <Button
              size="compact-sm"
              variant="default"
              disabled={!ready}
              aria-label="Bring the chart back to how it came"
              onClick={() => restore(null)}
            >
              Bring back
            </Button>
          </li>
        )}
      </ol>
      <Group mt="sm" gap="xs">
        {before !== null && (
          <Button size="xs" variant="default" onClick={() => setBefore(null)}>
            Newest
          </Button>
        )}
        {history.data?.older && (
          <Button size="xs" variant="default" onClick={() => setBefore(rows.at(-1)?.id ?? null)}>
            Older
          </Button>
        )}
      </Group>
    </>
  )
}
