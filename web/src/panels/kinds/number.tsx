import { Link } from 'react-router'
import { addressOf } from '../address.ts'
import type { Answers, BodyProps, Face, PaperProps } from '../face.ts'
import classes from '../Panels.module.css'
import { PaperSheet } from '../PaperSheet.tsx'

type Answer = Answers['number']

function Body({ content, answer, ...props }: BodyProps<Answer>) {
  const to = addressOf(props, `/charts/${answer.kpi}`)
  return (
    <div className={classes.number}>
      <b>{answer.text || '–'}</b>
      <div>
        <h2>
          {to ? (
            <Link className={classes.lead} to={to}>
              {content.title}
            </Link>
          ) : (
            content.title
          )}
        </h2>
        <p className={classes.detail}>
          {answer.period && `${answer.period}. `}
          {content.detail}
        </p>
      </div>
    </div>
  )
}

function Paper({ answer, width, height }: PaperProps<Answer>) {
  const middle = height / 2
  return (
    <PaperSheet label={answer.name} {...{ width, height }}>
      <g textAnchor="middle">
        <text x={width / 2} y={middle} fontSize={72} fontWeight={600} fill="var(--ink)">
          {answer.text || '–'}
        </text>
        <text x={width / 2} y={middle + 34} fontSize={16} fill="var(--quiet)">
          {[answer.name, answer.period].filter(Boolean).join(', ')}
        </text>
      </g>
    </PaperSheet>
  )
}

export const number: Face<Answer> = {
  noun: 'number',
  Body,
  Paper,
}
