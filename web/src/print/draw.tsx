// Panels drawn for paper: the same parts as on screen, as an SVG document of its own.
import type { ReactNode } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import css from '../chart/Chart.module.css?inline'
import type { Content, PaperProps } from '../panels/face.ts'
import { FACES } from '../panels/faces.ts'
import { variables } from '../theme.ts'

export interface Wanted {
  content: Content
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

// On white paper a text needs no ground of its own, and nothing serves a hand or an eye at it. Who
// knows no order of painting would cover a text with its ground, whatever rule that comes from.
const STYLE = colored(`${css}
text { stroke: none !important; }
[data-on-screen] { display: none; }
text { font-family: ${FONT}; }`)

/** How the screen moves a level, so that it can glide; not all that read a drawing know it. */
const MOVED = /style="transform:translateY\((-?[\d.e-]+)px\)"/g

export function drawn({ content, width, height }: Wanted): string {
  const Paper = FACES[content.kind].Paper as ((props: PaperProps<unknown>) => ReactNode) | null
  if (!Paper) throw new Error(`What is of kind ${content.kind} is read, not drawn.`)
  const { answer } = content
  const markup = renderToStaticMarkup(<Paper {...{ answer, width, height }} />)
  const svg = markup.slice(markup.indexOf('<svg'), markup.lastIndexOf('</svg>') + 6)
  const head = svg.indexOf('>')
  const named = svg.slice(0, head).replace('<svg', '<svg xmlns="http://www.w3.org/2000/svg"')
  const body = svg.slice(head + 1).replace(MOVED, 'transform="translate(0 $1)"')
  return colored(`${named} font-size="11.5"><style>${STYLE}</style>${body}`)
}
