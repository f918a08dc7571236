import { LagCurve, PairView, Scatter } from '../../compare/front.ts'
import { addressOf } from '../address.ts'
import { Filled, Framed } from '../Framed.tsx'
import type { Answers, BodyProps, Face, PaperProps } from '../face.ts'
import { PaperSheet } from '../PaperSheet.tsx'

type Answer = Answers['pair']

function Body({ content, answer, ...props }: BodyProps<Answer>) {
  const { x, y, lag } = answer
  const by = props.panel?.options.by
  const asked = { x: x.kpi, y: y.kpi, lag: lag ? String(lag) : null, by }
  return (
    <Framed title={content.title} to={addressOf(props, '/compare/pair', asked)} panel={props.panel}>
      <Filled>
        <PairView data={answer} asTheyAre={false} onLag={null} onAsTheyAre={null} />
      </Filled>
    </Framed>
  )
}

function Paper({ answer, width, height }: PaperProps<Answer>) {
  const side = Math.min(height, width * 0.52)
  const left = side + 20
  return (
    <PaperSheet label={answer.sentence} {...{ width, height }}>
      <Scatter data={answer} side={side} />
      <g transform={`translate(${left} 24)`}>
        <text fontSize={12} fontWeight={600} fill="var(--ink)">
          Correlation by lag, in {answer.grain}s
        </text>
        <g transform="translate(0 12)">
          <LagCurve data={answer} width={width - left} />
        </g>
      </g>
    </PaperSheet>
  )
}

export const pair: Face<Answer> = {
  noun: 'pair',
  Body,
  Paper,
}
