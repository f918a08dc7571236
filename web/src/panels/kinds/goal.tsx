import { OnePlot } from '../../chart/small/OnePlot.tsx'
import { domainOf, GoalView } from '../../compare/front.ts'
import { addressOf } from '../address.ts'
import { Filled, Framed } from '../Framed.tsx'
import type { Answers, BodyProps, Face, PaperProps } from '../face.ts'
import { PaperSheet } from '../PaperSheet.tsx'

type Answer = Answers['goal']

function Body({ content, answer, ...props }: BodyProps<Answer>) {
  const goal = props.panel?.options.goal
  const asked = { kpi: props.panel?.kpis ?? [], goal: goal == null ? null : String(goal) }
  return (
    <Framed
      title={content.title}
      to={addressOf(props, '/compare/goal', asked)}
      panel={props.panel}
      detail={content.detail}
    >
      <Filled>
        <GoalView data={answer} wide={false} workspace={props.workspace} />
      </Filled>
    </Framed>
  )
}

function Paper({ answer, width, height }: PaperProps<Answer>) {
  const domain = domainOf(answer.dates)
  const high = height / Math.max(1, answer.panels.length)
  return (
    <PaperSheet label={'Against a goal'} {...{ width, height }}>
      {answer.panels.map((unit, n) => (
        <g key={unit.unit} transform={`translate(0 ${n * high})`}>
          <OnePlot
            label={unit.unit}
            lines={unit.lines.map(({ kpi, name, chart }) => ({ key: kpi, name, chart }))}
            strong={null}
            onStrong={() => undefined}
            goal={unit.goal}
            goalText={unit.goal_text}
            {...{ domain, width }}
            height={high - 8}
          />
        </g>
      ))}
    </PaperSheet>
  )
}

export const goal: Face<Answer> = {
  noun: 'goal',
  Body,
  Paper,
}
