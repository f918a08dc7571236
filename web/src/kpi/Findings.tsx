import { Button } from '@mantine/core'
import { useState } from 'react'
import { Mark } from '../chart/Mark.tsx'
import { markOf } from '../chart/marks.ts'
import type { Chart, Signal } from '../chart/types.ts'
import classes from './ChartPage.module.css'

const FEW = 3

interface Props {
  chart: Chart
  onSelect: (position: number) => void
  /** Takes up a review again that ended with the limits kept. */
  onReopen: (kept: Chart['kept_limits'][number]) => void
}

/** The signals in reading order, newest first, and before and after of the last shift. */
export function Findings({ chart, onSelect, onReopen }: Props) {
  const [all, setAll] = useState(false)
  const signals = [...chart.signals].reverse()
  const shown = all ? signals : signals.slice(0, FEW)
  return (
    <section aria-labelledby="findings">
      <h2 id="findings" className="unseen">
        Findings
      </h2>
      <div className={classes.cards}>
        {shown.map((signal) => (
          <Card
            key={`${signal.rule} ${signal.side} ${signal.points[0]}`}
            {...{ signal, onSelect }}
          />
        ))}
        {signals.length === 0 && (
          <article className={`card ${classes.finding}`}>
            <h3>No signals</h3>
            <p>
              {chart.count < 5
                ? 'Limits, and signals with them, come with five values.'
                : 'All of it is routine variation: treat no single value as news.'}
            </p>
          </article>
        )}
        {chart.kept_limits.map((kept) => (
          <article key={kept.period} className={`card ${classes.finding}`}>
            <h3>Limits kept at {kept.label}</h3>
            <p>{kept.reason}</p>
            <footer>
              <button type="button" className={classes.show} onClick={() => onReopen(kept)}>
                Reopen the review
              </button>
            </footer>
          </article>
        ))}
        {chart.comparison && <BeforeAndAfter comparison={chart.comparison} />}
        {chart.doubts.length > 0 && <Fit doubts={chart.doubts} />}
      </div>
      {signals.length > FEW && (
        <Button variant="subtle" size="xs" mt="xs" onClick={() => setAll(!all)}>
          {all ? 'Show the newest only' : `Show all ${signals.length} signals`}
        </Button>
      )}
      {signals.length < chart.signal_count && (
        <p className={classes.elsewhere}>
          {signals.length} of {chart.signal_count} signals are in the dates shown.
        </p>
      )}
    </section>
  )
}

function Card({ signal, onSelect }: { signal: Signal; onSelect: (position: number) => void }) {
  return (
    <article className={`card ${classes.finding}`}>
      <header>
        <svg width={18} height={18} aria-hidden="true" focusable="false">
          <Mark kind={markOf(signal.rule)} x={9} y={9} />
        </svg>
        <h3>{signal.title}</h3>
      </header>
      <p>{signal.text}</p>
      <footer>
        <button
          type="button"
          className={classes.show}
          aria-label={`Show ${signal.title} of ${signal.label} on the chart`}
          onClick={() => onSelect(signal.points[0] ?? 0)}
        >
          Show on the chart
        </button>
        <span className="quiet">{signal.label}</span>
      </footer>
    </article>
  )
}

/** What speaks against a chart of these values, each with its number and what to do. */
function Fit({ doubts }: { doubts: Chart['doubts'] }) {
  return (
    <article className={`card ${classes.finding}`}>
      <h3>Fit for a chart?</h3>
      {doubts.map((doubt) => (
        <p key={doubt.title}>
          <b>{doubt.title}.</b> {doubt.text} <span className="quiet">{doubt.remedy}</span>
        </p>
      ))}
    </article>
  )
}

function BeforeAndAfter({ comparison }: { comparison: NonNullable<Chart['comparison']> }) {
  return (
    <article className={`card ${classes.finding}`}>
      <h3>Before and after</h3>
      <table className={classes.comparison}>
        <thead>
          <tr>
            <td />
            <th scope="col">{comparison.before}</th>
            <th scope="col">{comparison.after}</th>
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
            </tr>
          ))}
        </tbody>
      </table>
    </article>
  )
}
