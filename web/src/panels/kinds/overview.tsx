import { Link } from 'react-router'
import { useHairlineTime } from '../../chart/hairline.tsx'
import { dayTime, place, type Span } from '../../chart/small/place.ts'
import { NearHairline, SmallPlot } from '../../chart/small/SmallPlot.tsx'
import { fitted } from '../../chart/text/measure.ts'
import { useSize } from '../../shared/looking/useSize.ts'
import { addressOf } from '../address.ts'
import { Filled, Framed } from '../Framed.tsx'
import type { Answers, BodyProps, Face, PaperProps } from '../face.ts'
import classes from '../Panels.module.css'
import { PaperSheet } from '../PaperSheet.tsx'

type Answer = Answers['overview']
type Row = Answer['rows'][number]

const STRIP = 34
const domainOf = ({ first, last }: Answer): Span => [dayTime(first ?? ''), dayTime(last ?? '')]

function Body({ content, answer, ...props }: BodyProps<Answer>) {
  const domain = domainOf(answer)
  return (
    <Framed
      title={content.title}
      to={addressOf(props, '')}
      panel={props.panel}
      detail={content.detail}
    >
      <Filled className={classes.strips}>
        {answer.rows.map((row) => (
          <SmallStrip key={row.slug} workspace={props.workspace} {...{ row, domain }} />
        ))}
      </Filled>
    </Framed>
  )
}

function SmallStrip({ workspace, row, domain }: { workspace: string; row: Row; domain: Span }) {
  const { ref, width } = useSize()
  const placed = place(row.chart, { width: Math.max(60, width), height: STRIP }, domain)
  const time = useHairlineTime()
  return (
    <>
      {workspace ? (
        <Link to={`/${workspace}/charts/${row.slug}`} title={row.name}>
          {row.name}
        </Link>
      ) : (
        <b title={row.name}>{row.name}</b>
      )}
      <div ref={ref}>
        <svg
          width={placed.width}
          height={STRIP}
          role="img"
          aria-label={`${row.name} from ${row.chart.range}`}
        >
          <SmallPlot chart={row.chart} placed={placed} color="var(--quiet)" markSize={3} />
          {time !== null && <NearHairline chart={row.chart} placed={placed} time={time} />}
        </svg>
      </div>
      <span title={row.more}>{row.what}</span>
    </>
  )
}

/** Pixels that a strip takes on paper, and its texts at the left and at the right. */
const LINE = 30
const [NAME, WHAT] = [150, 190]

function Paper({ answer, width, height }: PaperProps<Answer>) {
  const most = Math.floor(height / LINE)
  // The last line tells of those that there is no room for; the table has them all.
  const shown = answer.rows.length > most ? answer.rows.slice(0, most - 1) : answer.rows
  const domain = domainOf(answer)
  const size = { width: width - NAME - WHAT - 16, height: LINE - 4 }
  return (
    <PaperSheet label={answer.sentence} {...{ width, height }}>
      {shown.map((row, n) => (
        <g key={row.slug} transform={`translate(0 ${n * LINE})`}>
          <text y={18} fontWeight={600} fill="var(--ink)">
            {fitted(row.name, NAME - 8, 600)}
          </text>
          <g transform={`translate(${NAME} 0)`}>
            <SmallPlot
              chart={row.chart}
              placed={place(row.chart, size, domain)}
              color="var(--quiet)"
              markSize={3}
            />
          </g>
          <text x={width - WHAT} y={18} fill="var(--quiet)">
            {fitted(row.what, WHAT)}
          </text>
        </g>
      ))}
      {shown.length < answer.rows.length && (
        <text y={shown.length * LINE + 18} fill="var(--quiet)">
          {answer.rows.length - shown.length} more are in the table.
        </text>
      )}
    </PaperSheet>
  )
}

export const overview: Face<Answer> = {
  noun: 'overview',
  Body,
  Paper,
}
