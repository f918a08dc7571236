// What the browser knows of a kind of panel. Each kind is one module of `kinds`, listed in `faces.ts`.
import type { ComponentType, ReactNode } from 'react'
import type { Schemas } from '../api/client.ts'
import type { Span } from '../chart/small/place.ts'
import type { DatesAsked } from '../shared/looking/useDates.ts'

export type Panel = Schemas['PagePanel']
export type Content = Schemas['PanelContent']
export type Kind = Content['kind']

/** What the server answers with for a panel of each kind. */
export interface Answers {
  chart: Schemas['ChartPanel']
  number: Schemas['NumberPanel']
  parts: Schemas['Parts']
  shares: Schemas['Shares']
  places: Schemas['PlacesPanel']
  goal: Schemas['AgainstGoal']
  pair: Schemas['Pair']
  overview: Schemas['Overview']
  improvements: Schemas['ImprovementsPanel']
  text: Schemas['TextPanel']
}

export interface BodyProps<A> {
  content: Content
  answer: A
  /** As it stands on its page; null where it is shown by a link. */
  panel: Panel | null
  /** The workspace, whose screens can be gone to; "" where it is shown by a link. */
  workspace: string
  /** Those of the page. */
  dates: DatesAsked
  /** Where the axis begins and ends, where several charts share one. */
  axis: Span | null
  onReach: (unit: string, reach: Span) => void
}

export interface PaperProps<A> {
  answer: A
  width: number
  height: number
}

/** All that the browser knows of a kind of panel. */
export interface Face<A> {
  /** What it is called while a page is arranged. */
  noun: string
  /** How it is shown on a page, at a link and in a meeting. */
  Body: ComponentType<BodyProps<A>>
  /** How it is drawn for paper, as one SVG of a width and a height; null for what is read. */
  Paper: ((props: PaperProps<A>) => ReactNode) | null
  /** Whether people write into it: it is of no dates then. */
  written?: boolean
  /** Rows more where panels stand under each other, and its title breaks into many lines. */
  taller?: number
}
