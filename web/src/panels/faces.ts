// The kinds of panels there are, as the browser knows them. A new one is its module and its line here.
import type { Answers, Face, Kind } from './face.ts'
import { chart } from './kinds/chart.tsx'
import { goal } from './kinds/goal.tsx'
import { improvements } from './kinds/improvements.tsx'
import { number } from './kinds/number.tsx'
import { overview } from './kinds/overview.tsx'
import { pair } from './kinds/pair.tsx'
import { parts } from './kinds/parts.tsx'
import { places } from './kinds/places.tsx'
import { shares } from './kinds/shares.tsx'
import { text } from './kinds/text.tsx'

export const FACES: { [K in Kind]: Face<Answers[K]> } = {
  chart,
  number,
  parts,
  shares,
  places,
  goal,
  pair,
  overview,
  improvements,
  text,
}
