import { fitted } from '../../chart/text/measure.ts'
import { Outcome } from '../../improvements/ImprovementRow.tsx'
import { days } from '../../shared/writing.ts'
import { addressOf } from '../address.ts'
import { Filled, Framed } from '../Framed.tsx'
import type { Answers, BodyProps, Face, PaperProps } from '../face.ts'
import classes from '../Panels.module.css'
import { PaperSheet } from '../PaperSheet.tsx'

type Answer = Answers['improvements']

function Body({ content, answer, ...props }: BodyProps<Answer>) {
  return (
    <Framed
      title={content.title}
      to={addressOf(props, '/improvements')}
      panel={props.panel}
      detail={content.detail && `Worth ${content.detail}.`}
    >
      <Filled>
        {answer.rows.map((row) => (
          <section key={row.id} aria-label={row.name} className={classes.improvement}>
            <b>{row.name}</b>{' '}
            <span className="quiet">
              {[`since ${days(row.began, row.began)}`, row.owner_name].filter(Boolean).join(' · ')}
            </span>
            {row.aims.map((aim) => (
              <Outcome key={aim.kpi} workspace={props.workspace} aim={aim} />
            ))}
          </section>
        ))}
      </Filled>
    </Framed>
  )
}

/** Pixels that an improvement takes on paper. */
const LINE = 40

function Paper({ answer, width, height }: PaperProps<Answer>) {
  const lines = answer.rows.flatMap((row) => row.aims.map((aim) => ({ row, aim })))
  const shown = lines.slice(0, Math.floor(height / LINE))
  return (
    <PaperSheet label="Improvements" {...{ width, height }}>
      {shown.map(({ row, aim }, n) => (
        <g key={`${row.id} ${aim.kpi}`} transform={`translate(0 ${n * LINE})`}>
          <text y={15} fontWeight={600} fill="var(--ink)">
            {fitted(`${row.name}, ${aim.kpi_name}: ${aim.state_name.toLowerCase()}`, width, 600)}
          </text>
          <text y={31} fill="var(--quiet)">
            {fitted(aim.says, width)}
          </text>
        </g>
      ))}
    </PaperSheet>
  )
}

export const improvements: Face<Answer> = {
  noun: 'improvements',
  Body,
  Paper,
}
