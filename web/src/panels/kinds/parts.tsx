import { FramedChart } from '../../chart/small/FramedChart.tsx'
import { OnePlot } from '../../chart/small/OnePlot.tsx'
import { commonReach } from '../../chart/small/place.ts'
import { fitted } from '../../chart/text/measure.ts'
import { domainOf, PartsView } from '../../compare/front.ts'
import { addressOf } from '../address.ts'
import { Filled, Framed } from '../Framed.tsx'
import type { Answers, BodyProps, Face, PaperProps } from '../face.ts'
import { PaperSheet } from '../PaperSheet.tsx'

type Answer = Answers['parts']
type Order = Parameters<typeof PartsView>[0]['look']['order']

function Body({ content, answer, ...props }: BodyProps<Answer>) {
  const { order, parts = [], one_plot: onePlot = false } = props.panel?.options ?? {}
  const look = { order: (order || 'name') as Order, onePlot, parts }
  const asked = { kpi: answer.kpi, order, part: parts, plot: onePlot ? 'one' : null }
  return (
    <Framed
      title={content.title}
      to={addressOf(props, '/compare/parts', asked)}
      panel={props.panel}
      detail={content.detail}
    >
      <Filled>
        <PartsView data={answer} look={look} onLook={null} />
      </Filled>
    </Framed>
  )
}

/** Small charts on paper: more are too small to be read, and stand in the table. */
const MOST = 12
/** More parts than that are lines of one plot, not charts of their own. */
const COLUMNS = 4
const TITLE = 18
const GAP = 10

function Paper({ answer, width, height }: PaperProps<Answer>) {
  const shown = answer.parts.slice(0, MOST)
  const domain = domainOf(answer.dates)
  if (answer.parts.length > MOST)
    return (
      <OnePlot
        label={answer.name}
        lines={answer.parts.map(({ name, chart }) => ({ key: name, name, chart }))}
        strong={null}
        onStrong={() => undefined}
        {...{ domain, width, height }}
      />
    )
  const reach = commonReach(
    shown.map(({ chart }) => chart),
    { target: true },
  )
  const columns = Math.min(COLUMNS, Math.max(1, Math.ceil(Math.sqrt(shown.length))))
  const rows = Math.max(1, Math.ceil(shown.length / columns))
  const [wide, high] = [(width + GAP) / columns - GAP, (height + GAP) / rows - GAP]
  return (
    <PaperSheet label={answer.name} {...{ width, height }}>
      {shown.map((part, n) => (
        <g
          key={part.name}
          transform={`translate(${(n % columns) * (wide + GAP)} ${Math.floor(n / columns) * (high + GAP)})`}
        >
          <text y={12} fontSize={12} fontWeight={600} fill="var(--ink)">
            {fitted(part.name, wide, 600)}
          </text>
          <g transform={`translate(0 ${TITLE})`}>
            <FramedChart
              chart={part.chart}
              label={part.name}
              {...{ domain, reach }}
              width={wide}
              height={high - TITLE}
              target
            />
          </g>
        </g>
      ))}
    </PaperSheet>
  )
}

export const parts: Face<Answer> = {
  noun: 'parts',
  Body,
  Paper,
}
