import {
  type Areas,
  MapDrawing,
  type Measure,
  PlacesView,
  shippedCountries,
} from '../../compare/front.ts'
import { addressOf } from '../address.ts'
import { Filled, Framed } from '../Framed.tsx'
import type { Answers, BodyProps, Face, PaperProps } from '../face.ts'

type Answer = Answers['places']

const areasOf = ({ areas }: Answer) =>
  ({ type: 'FeatureCollection', features: areas }) as unknown as Areas

function Body({ content, answer, ...props }: BodyProps<Answer>) {
  const { placed } = answer
  const measure = placed.measure as Measure
  return (
    <Framed
      title={content.title}
      to={addressOf(props, '/compare/places', { kpi: placed.kpi, measure })}
      panel={props.panel}
    >
      <Filled>
        <PlacesView
          workspace={props.workspace}
          data={placed}
          areas={areasOf(answer)}
          measure={measure}
          onMeasure={null}
        />
      </Filled>
    </Framed>
  )
}

function Paper({ answer, width, height }: PaperProps<Answer>) {
  return (
    <MapDrawing
      data={answer.placed}
      areas={areasOf(answer)}
      world={shippedCountries()}
      strong={null}
      onStrong={() => undefined}
      {...{ width, height }}
    />
  )
}

export const places: Face<Answer> = {
  noun: 'map',
  Body,
  Paper,
}
