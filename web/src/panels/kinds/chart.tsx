import { useEffect } from 'react'
import { ChartView } from '../../chart/ChartView.tsx'
import { OWN_LINES, shownBut, withHidden } from '../../chart/model/views.ts'
import { useSize } from '../../shared/looking/useSize.ts'
import { subtitle } from '../../shared/writing.ts'
import { addressOf } from '../address.ts'
import { Framed } from '../Framed.tsx'
import type { Answers, BodyProps, Face, PaperProps } from '../face.ts'
import classes from '../Panels.module.css'

type Answer = Answers['chart']

/** Pixels that a chart needs at the least; it is scrolled where a panel has fewer. */
const LOWEST = 160
/** How high it is where no panel says so, as at a link. */
const ALONE = 440

function Body({ content, answer, axis, onReach, ...props }: BodyProps<Answer>) {
  const { ref, height } = useSize()
  const { chart, hidden, pins, view } = answer
  const values = chart.points.value
  // biome-ignore lint/correctness/useExhaustiveDependencies: it reaches as far as its values do
  useEffect(() => {
    if (values.length === 0) return
    const levels = chart.segments.flatMap(({ lower, upper }) => [lower, upper])
    const all = [...values, ...levels].filter((level) => level !== null)
    onReach(chart.kpi.unit, [Math.min(...all), Math.max(...all)])
  }, [values])
  const drawn = hidden ? withHidden(chart, hidden) : chart
  const own = (hidden ?? []).filter((name) => OWN_LINES.some((line) => line === name))
  // Beside nothing else that says it, as at a link.
  const of = [chart.kpi.name, view, subtitle(chart)].filter(Boolean).join(' · ')
  return (
    <>
      {!props.panel && <p className="quiet">{of}</p>}
      <Framed
        title={content.title}
        to={addressOf(props, `/charts/${chart.kpi.slug}`, { view })}
        panel={props.panel}
        detail={content.detail}
      >
        <div ref={ref} className={`${classes.fill} ${classes.scrolls}`}>
          <ChartView
            chart={
              axis ? { ...drawn, axis: { ...drawn.axis, low: axis[0], high: axis[1] } } : drawn
            }
            shown={shownBut(own)}
            height={props.panel ? Math.max(LOWEST, height) : ALONE}
            {...(props.panel ? { shared: true } : { pins })}
          />
        </div>
      </Framed>
    </>
  )
}

function Paper({ answer: { chart, hidden, pins }, width, height }: PaperProps<Answer>) {
  return (
    <ChartView
      chart={hidden ? withHidden(chart, hidden) : chart}
      shown={shownBut(hidden ?? [])}
      {...{ pins, height }}
      drawnAt={width}
    />
  )
}

export const chart: Face<Answer> = {
  noun: 'chart',
  Body,
  Paper,
  taller: 2,
}
