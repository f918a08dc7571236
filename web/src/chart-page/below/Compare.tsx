import { Button, Group, NativeSelect } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState } from 'react'
import type { Chart } from '../../chart/model/types.ts'
import { DayInput } from '../../shared/day/DayInput.tsx'
import { shortPeriod } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'
import type { KpiPath } from '../data/chart.ts'
import { type Compared, useComparison } from '../data/context.ts'

interface Props {
  path: KpiPath
  chart: Chart
  /** Whether other segments and dates can be asked for: of what is saved, at its own grain. */
  asking: boolean
}

/** Any two segments, or before and after any date, side by side and as a sentence. */
export function Compare({ path, chart, asking }: Props) {
  const [compared, setCompared] = useState<Compared | null>(null)
  const answer = useComparison(path, asking ? compared : null)
  const comparison = asking && compared ? (answer.data ?? null) : chart.comparison
  const { segments, kpi } = chart
  const last = segments.length - 1
  const names = [
    // A date is compared, not two segments.
    ...(compared?.at ? [{ value: '', label: 'A date' }] : []),
    ...segments.map((segment, n) => ({
      value: String(n),
      label: segment.name || (n === 0 ? 'From the start' : `From ${segment.label}`),
    })),
  ]
  const [before, after] = comparison?.numbers ?? []
  const first = chart.points.period[0] ?? ''
  if (!asking && !comparison) return null
  return (
    <article className={`card ${classes.finding} ${classes.wide}`}>
      <h3>Before and after</h3>
      {asking && (
        <Group gap="xs" align="end">
          {segments.length > 1 && (
            <>
              <NativeSelect
                size="xs"
                w={150}
                aria-label="Before"
                data={names}
                value={compared?.at ? '' : String(before ?? last - 1)}
                onChange={({ currentTarget: { value } }) =>
                  value && setCompared({ before: Number(value), after: after ?? last })
                }
              />
              <NativeSelect
                size="xs"
                w={150}
                aria-label="After"
                data={names}
                value={compared?.at ? '' : String(after ?? last)}
                onChange={({ currentTarget: { value } }) =>
                  value &&
                  setCompared({ before: before ?? Math.max(0, last - 1), after: Number(value) })
                }
              />
            </>
          )}
          {kpi.grain !== 'hour' && (
            <DayInput
              size="xs"
              w={150}
              aria-label="Any date to compare before and after"
              placeholder="Any date"
              value={compared?.at ?? ''}
              onChange={(day) => {
                const at = chart.points.period.slice(1).find((period) => period >= day)
                setCompared(day && at ? { at } : null)
              }}
            />
          )}
        </Group>
      )}
      {answer.error && compared && (
        <p role="alert">
          {answer.error.message} Choose another date, after {shortPeriod(first, kpi.grain)}.
        </p>
      )}
      {comparison ? (
        <>
          <table className={classes.comparison}>
            <thead>
              <tr>
                <td />
                <th scope="col">{comparison.before}</th>
                <th scope="col">{comparison.after}</th>
                <th scope="col">change</th>
                <th scope="col">
                  <span className="unseen">in percent</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {comparison.rows.map((row) => (
                <tr key={row.name}>
                  <th scope="row">{row.name}</th>
                  <td>{row.before}</td>
                  <td>
                    <b>{row.after}</b>
                  </td>
                  <td>{row.change}</td>
                  <td>{row.percent === '\u2014' ? '' : row.percent}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p>{comparison.sentence}</p>
          {comparison.evidence && <p className="quiet">{comparison.evidence}</p>}
          <footer>
            <button
              type="button"
              className={classes.show}
              onClick={async () => {
                await navigator.clipboard.writeText(comparison.sentence)
                notifications.show({ message: 'The sentence is copied.', autoClose: 3000 })
              }}
            >
              Copy the sentence
            </button>
            {compared && (
              <Button size="compact-xs" variant="subtle" onClick={() => setCompared(null)}>
                The last shift
              </Button>
            )}
          </footer>
        </>
      ) : (
        <p className="quiet">
          There is no shift yet. Choose any date to see what changed from there.
        </p>
      )}
    </article>
  )
}
