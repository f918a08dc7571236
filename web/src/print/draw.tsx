// The chart drawn for paper: the same layers as on screen, as an SVG document of its own.
import { renderToStaticMarkup } from 'react-dom/server'
import classes from '../chart/Chart.module.css'
import css from '../chart/Chart.module.css?inline'
import { ChartView } from '../chart/ChartView.tsx'
import type { Pin } from '../chart/layers/lane/Story.tsx'
import type { Chart } from '../chart/model/types.ts'
import { shownBut, withHidden } from '../chart/model/views.ts'
import { variables } from '../theme.ts'

export interface Wanted {
  chart: Chart
  pins: Pin[]
  /** Lines that the view hides; null: the chart as it is kept. */
  hidden: string[] | null
  width: number
  height: number
}

const FONT = "'Hanken Grotesk', 'DejaVu Sans', sans-serif"
const LIGHT: Record<string, string | undefined> = { ...variables({} as never).light }

/** Puts the colors of the light scheme, on white, in the place of their names. */
function colored(text: string): string {
  return text.replace(/var\((--[a-z-]+)\)/g, (_, name: string) =>
    name === '--ground' ? (LIGHT['--card'] ?? '') : (LIGHT[name] ?? ''),
  )
}

// On white paper a text needs no ground of its own, and nothing serves a hand or an eye at it.
const STYLE = colored(`${css}
.${classes.labels} text, .${classes.panelCount} { stroke: none; }
[data-on-screen] { display: none; }
text { font-family: ${FONT}; }`)

export function drawn({ chart, pins, hidden, width, height }: Wanted): string {
  const markup = renderToStaticMarkup(
    <ChartView
      chart={hidden === null ? chart : withHidden(chart, hidden)}
      shown={shownBut(hidden ?? [])}
      {...{ pins, height }}
      drawnAt={width}
    />,
  )
  const svg = markup.slice(markup.indexOf('<svg'), markup.lastIndexOf('</svg>') + 6)
  const head = svg.indexOf('>')
  const named = svg.slice(0, head).replace('<svg', '<svg xmlns="http://www.w3.org/2000/svg"')
  return colored(`${named} font-size="11.5"><style>${STYLE}</style>${svg.slice(head + 1)}`)
}
