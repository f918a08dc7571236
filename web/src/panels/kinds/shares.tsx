import { fitted } from '../../chart/text/measure.ts'
import { ShareColumns, SharesView, shareTone } from '../../compare/front.ts'
import { addressOf } from '../address.ts'
import { Filled, Framed } from '../Framed.tsx'
import type { Answers, BodyProps, Face, PaperProps } from '../face.ts'
import { PaperSheet } from '../PaperSheet.tsx'

type Answer = Answers['shares']

function Body({ content, answer, ...props }: BodyProps<Answer>) {
  return (
    <Framed
      title={content.title}
      to={addressOf(props, '/compare/shares', { kpi: answer.kpi })}
      panel={props.panel}
    >
      <Filled>
        <SharesView data={answer} bare />
      </Filled>
    </Framed>
  )
}

/** The legend beside the columns. */
const LEGEND = 150
const LINE = 20

function Paper({ answer, width, height }: PaperProps<Answer>) {
  const right = width - LEGEND
  return (
    <PaperSheet label={answer.name} {...{ width, height }}>
      <ShareColumns data={answer} width={right - 12} height={height} />
      {answer.parts.map(({ name, share }, n) => (
        <g key={name} transform={`translate(${right} ${16 + n * LINE})`}>
          <rect y={-10} width={11} height={11} fill={shareTone(n)} />
          <text x={17} fontSize={12} fill="var(--ink)">
            {fitted(`${name} ${(share * 100).toFixed(1)}%`, LEGEND - 18)}
          </text>
        </g>
      ))}
    </PaperSheet>
  )
}

export const shares: Face<Answer> = {
  noun: 'shares',
  Body,
  Paper,
}
