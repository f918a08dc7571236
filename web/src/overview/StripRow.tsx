import { Button, Checkbox } from '@mantine/core'
import { memo } from 'react'
import { Link } from 'react-router'
import { useHairlineTime } from '../chart/hairline.tsx'
import { MarkIcon } from '../chart/layers/Mark.tsx'
import { nearestTo, place, type Span } from '../chart/small/place.ts'
import { NearHairline, SmallPlot } from '../chart/small/SmallPlot.tsx'
import { valueText } from '../shared/numbers.ts'
import { shortPeriod, WANTED } from '../shared/writing.ts'
import classes from './Overview.module.css'
import type { Row } from './overview.ts'

interface Props {
  row: Row
  workspace: string
  domain: Span
  /** Of the strip. */
  width: number
  height: number
  chosen: boolean
  onChoose: (slug: string) => void
}

/** A thinned strip has so many points, a stretch of time for each. */
const COLUMNS = 110
/** More marks than that are drawn smaller. */
const MANY = 30

/** A KPI of the overview: its name, its chart made small, its value, and what to know of it. */
export const StripRow = memo(function StripRow(props: Props) {
  const { row, workspace, domain, width, height, chosen, onChoose } = props
  const placed = place(row.chart, { width, height }, domain)
  const base = `/${workspace}/charts/${row.slug}`
  return (
    <>
      <div className={classes.name}>
        <Checkbox
          className={classes.check ?? ''}
          size="xs"
          tabIndex={-1}
          checked={chosen}
          aria-label={`Choose ${row.name}`}
          onClick={(event) => event.stopPropagation()}
          onChange={() => onChoose(row.slug)}
        />
        <div>
          <Link className={classes.link} to={base} data-row={row.slug} title={row.name}>
            {row.name}
          </Link>
          <small>{[row.unit, WANTED[row.direction]].filter(Boolean).join(' · ')}</small>
        </div>
      </div>
      <div className={classes.strip}>
        <svg width={width} height={height} role="img" aria-label={spokenStrip(row)}>
          <title>{row.chart.range && `From ${row.chart.range}`}</title>
          <SmallPlot
            chart={row.chart}
            placed={placed}
            color="var(--quiet)"
            markSize={row.chart.marks.length > MANY ? 2.8 : 4}
          />
          <Near chart={row.chart} placed={placed} />
        </svg>
      </div>
      <div className={classes.latest}>
        <Reading row={row} domain={domain} />
      </div>
      <div className={classes.know}>
        <div>
          <b title={row.what}>
            {row.mark && <MarkIcon kind={row.mark} small />}
            <span className={classes.what}>{row.what}</span>
          </b>
          <small title={row.more}>
            {row.is_new && <b className="unseen">New. </b>}
            {row.more}
          </small>
        </div>
        {row.attention === 'waits' && (
          <Button
            component={Link}
            to={base}
            size="compact-xs"
            variant="default"
            tabIndex={-1}
            onClick={(event) => event.stopPropagation()}
          >
            Review
          </Button>
        )}
      </div>
    </>
  )
})

function spokenStrip({ chart }: Row): string {
  const marks = chart.marks.length
  return chart.range
    ? `${chart.period.length} points from ${chart.range}, ${marks} marked`
    : 'No values in these dates'
}

function Near(props: Omit<Parameters<typeof NearHairline>[0], 'time'>) {
  const time = useHairlineTime()
  return time === null ? null : <NearHairline {...props} time={time} />
}

/** The value at the hairline; without one, the latest. */
function Reading({ row, domain }: { row: Row; domain: Span }) {
  const time = useHairlineTime()
  const { chart } = row
  const { times } = place(chart, { width: 1, height: 1 }, domain)
  const n = time === null ? undefined : nearestTo(times, time)
  if (time === null || n === undefined)
    return (
      <>
        <Figure text={row.latest || '–'} />
        <small>
          {row.latest_label}
          {row.late && ' · late'}
        </small>
      </>
    )
  // A point of a strip that is thinned stands for those near it: they are read as a range.
  const reach = (domain[1] - domain[0]) / COLUMNS
  const near = chart.value.filter((_, at) => Math.abs((times[at] ?? 0) - (times[n] ?? 0)) < reach)
  const [low, high] = [Math.min(...near), Math.max(...near)]
  const value = chart.value[n] ?? 0
  return (
    <>
      <Figure
        text={
          chart.thinned && low < high
            ? `${valueText(low, chart.numbers)}–${valueText(high, chart.numbers)}`
            : valueText(value, chart.numbers)
        }
      />
      <small>{shortPeriod(chart.period[n] ?? '', chart.grain)}</small>
    </>
  )
}

/** A number of many digits is set smaller: cut off, it would be another number. */
function Figure({ text }: { text: string }) {
  const fits = text.length <= 10 ? 'well' : text.length <= 13 ? 'close' : 'barely'
  return <span data-fits={fits}>{text}</span>
}
