import { Button } from '@mantine/core'
import { useState } from 'react'
import { useVocabulary } from '../../api/vocabulary.ts'
import { MarkIcon } from '../../chart/layers/Mark.tsx'
import type { Chart, Happening } from '../../chart/model/types.ts'
import { type Finding, useKpiFindings } from '../../findings/findings.ts'
import { StatePill } from '../../findings/StatePill.tsx'
import { hasContributions } from '../../shared/contributions/hasContributions.ts'
import { WhatMadeIt } from '../../shared/contributions/WhatMadeIt.tsx'
import classes from '../ChartPage.module.css'
import type { KpiPath, SegmentSettings } from '../data/chart.ts'
import { Compare } from './Compare.tsx'
import { type FarOffActs, FarOffCards } from './FarOffCards.tsx'

const FEW = 3

interface Props {
  path: KpiPath
  chart: Chart
  /** Whether this is the chart as it is kept, whose signals are findings on record. */
  saved: boolean
  /** The position that the pointer is at, on the chart. */
  at: number | null
  opened: number | null
  onLight: (positions: number[]) => void
  onOpen: (id: number) => void
  onSelect: (position: number) => void
  /** Takes up a review again that ended with the limits kept. */
  onReopen: (kept: Chart['kept_limits'][number]) => void
  /** What is done about values far off; null where nothing can be. */
  farOff: Omit<FarOffActs, 'values'> | null
  /** Takes the limits of a segment from all its values. */
  onFirm: (start: string | null) => void
  /** Lets the limits of the last segment follow a pattern. */
  onFollow: (follows: NonNullable<SegmentSettings['follows']>) => void
  /** Takes the limits of the last segment from the median moving range. */
  onMedian: () => void
}

/** The findings in reading order, newest first; what was decided, what changed, what to doubt. */
export function Findings(props: Props) {
  const { path, chart, saved, at, opened, onLight, onOpen, onSelect, onReopen } = props
  const [all, setAll] = useState(false)
  const least = useVocabulary()?.values_for_limits ?? 0
  const kpiFindings = useKpiFindings(path, saved)
  const happenings = [...chart.happenings].reverse()
  const shown = all ? happenings : happenings.slice(0, FEW)
  const findingOf = ({ first, last, title }: Happening) =>
    kpiFindings.data?.find(
      (item) =>
        item.presence === 'present' &&
        item.first === first &&
        item.last === last &&
        item.title === title,
    )
  const pointsOf = (happening: Happening) => [
    ...new Set(happening.signals.flatMap((path) => chart.signals[path]?.points ?? [])),
  ]
  const gone = saved ? (kpiFindings.data ?? []).filter((item) => item.presence === 'gone') : []
  return (
    <section aria-labelledby="findings">
      <h2 id="findings" className="unseen">
        Findings
      </h2>
      <div className={classes.cards}>
        {props.farOff && <FarOffCards values={chart.far_off} {...props.farOff} />}
        {shown.map((happening) => (
          <Card
            key={`${happening.first} ${happening.last} ${happening.title}`}
            finding={saved ? findingOf(happening) : undefined}
            points={pointsOf(happening)}
            told={saved && hasContributions(chart.kpi) ? path : null}
            {...{ happening, at, opened, onSelect, onLight, onOpen }}
          />
        ))}
        {happenings.length === 0 && (
          <article className={`card ${classes.finding}`}>
            <h3>No findings</h3>
            <p>{noFindings(chart, least)}</p>
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
      </div>
      {happenings.length > FEW && (
        <Button variant="subtle" size="xs" mt="xs" onClick={() => setAll(!all)}>
          {all ? 'Show the newest only' : `Show all ${happenings.length} findings`}
        </Button>
      )}
      {happenings.length < chart.finding_count && (
        <p className={classes.elsewhere}>
          {happenings.length} of {chart.finding_count} findings are in the dates shown.
        </p>
      )}
      <div className={`${classes.cards} ${classes.loose}`}>
        {chart.segments.map(
          (item) =>
            item.firmer && (
              <article key={item.start} className={`card ${classes.finding}`}>
                <h3>Firmer limits{item.name && ` for ${item.name}`}?</h3>
                <p>{item.firmer}</p>
                <footer>
                  <button
                    type="button"
                    className={classes.show}
                    onClick={() => props.onFirm(item.start)}
                  >
                    Take them from all values
                  </button>
                </footer>
              </article>
            ),
        )}
        {chart.patterns.map((item) => (
          <article key={item.follows} className={`card ${classes.finding}`}>
            <h3>{item.title}?</h3>
            <p>{item.text}</p>
            <footer>
              <button
                type="button"
                className={classes.show}
                onClick={() => props.onFollow(item.follows)}
              >
                Let the limits follow it
              </button>
            </footer>
          </article>
        ))}
        <Compare path={path} chart={chart} asking={saved} />
        {chart.doubts.length > 0 && (
          <Fit doubts={chart.doubts} onMedian={saved ? props.onMedian : null} />
        )}
      </div>
      {gone.length > 0 && (
        <details className={classes.table}>
          <summary>Findings that signal no more, {gone.length}</summary>
          <ul className={classes.gone}>
            {gone.map((finding) => (
              <li key={finding.id}>
                <button type="button" className={classes.show} onClick={() => onOpen(finding.id)}>
                  {finding.title}, {finding.label}
                </button>
                <StatePill finding={finding} />
                <span className="quiet">{finding.cause}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}

/** Why there are none: nothing to find, too little to go by, or none wanted. */
function noFindings(chart: Chart, least: number): string {
  if (chart.kpi.drawn_as === 'steps') return 'A value that holds has no limits to break.'
  if (chart.kpi.raises === 'nothing') return 'This KPI is told to raise none. See its details.'
  if (chart.nature !== null) return 'Limits say little of such values, so nothing is found in them.'
  if (chart.count < least) return `Limits, and findings with them, come with ${least} values.`
  return 'All of it is routine variation: treat no single value as news.'
}

function Card({
  happening,
  points,
  finding,
  told,
  at,
  opened,
  onSelect,
  onLight,
  onOpen,
}: {
  happening: Happening
  /** What can be asked about what made it; null where nothing can. */
  told: KpiPath | null
  points: number[]
  finding: Finding | undefined
  at: number | null
  opened: number | null
  onSelect: (position: number) => void
  onLight: (positions: number[]) => void
  onOpen: (id: number) => void
}) {
  const isLit = at !== null && points.includes(at)
  const light = () => onLight(points)
  const dim = () => onLight([])
  return (
    <article
      className={`card ${classes.finding}`}
      data-lit={isLit || (finding !== undefined && finding.id === opened)}
      onPointerEnter={light}
      onPointerLeave={dim}
      onFocus={light}
      onBlur={dim}
    >
      <header>
        <MarkIcon kind={happening.mark} />
        <h3>{happening.title}</h3>
      </header>
      <p>{happening.text}</p>
      {happening.evidence.length > 0 && (
        <p className="quiet">Also: {happening.evidence.join('; ')}.</p>
      )}
      {finding && (finding.cause || finding.person_name) && (
        <p className="quiet">
          {[finding.cause, finding.person_name && `with ${finding.person_name}`]
            .filter(Boolean)
            .join(', ')}
        </p>
      )}
      {told && (
        <WhatMadeIt
          path={told}
          asked={{ first: happening.lead_first, last: happening.lead_last }}
        />
      )}
      <footer>
        <button
          type="button"
          className={classes.show}
          aria-label={`Show ${happening.title} of ${happening.label} on the chart`}
          onClick={() => onSelect(happening.position)}
        >
          Show on the chart
        </button>
        {finding ? (
          <button
            type="button"
            className={classes.pillButton}
            aria-label={`Open the finding ${happening.title} of ${happening.label}`}
            onClick={() => onOpen(finding.id)}
          >
            <StatePill finding={finding} />
          </button>
        ) : (
          <span className="quiet">{happening.label}</span>
        )}
      </footer>
    </article>
  )
}

/** What speaks against a chart of these values, each with its number and what to do. */
function Fit({
  doubts,
  onMedian,
}: {
  doubts: Chart['doubts']
  /** Takes the limits from the median moving range; null where they can not be changed here. */
  onMedian: (() => void) | null
}) {
  return (
    <article className={`card ${classes.finding}`}>
      <h3>Fit for a chart?</h3>
      {doubts.map((doubt) => (
        <p key={doubt.title}>
          <b>{doubt.title}.</b> {doubt.text}{' '}
          {doubt.check === 'inflated_limits' && onMedian ? (
            <button type="button" className={classes.show} onClick={onMedian}>
              Take the limits from the median moving range
            </button>
          ) : (
            <span className="quiet">{doubt.remedy}</span>
          )}
        </p>
      ))}
    </article>
  )
}
