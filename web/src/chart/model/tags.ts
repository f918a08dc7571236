// The tags at the right ends of the lines: which there are, what they say, the room they take.
import { amountText, levelAmountText, levelText, valueText } from '../../shared/numbers.ts'
import { fitted, shortest, textWidth } from '../text/measure.ts'
import { drawnLines, lineName, linesApart } from './overlays.ts'
import type { Chart, Line, Segment, Shown } from './types.ts'

export type LineName =
  | 'average'
  | 'upper'
  | 'lower'
  | 'target'
  | 'range_limit'
  | 'average_range'
  | `line ${string}`

export interface TagText {
  name: LineName
  panel: 'values' | 'ranges' | 'totals'
  /** The line's name in full, and shorter ways to say it. */
  names: string[]
  value: number
  text: string
  /** The value with its unit, to be read aloud. */
  amount: string
  /** The line that a person has put there. */
  line?: Line
}

const FOLLOWED: Record<string, string> = { trend: 'Trend' }
/** Pixels beside and between the texts of a tag. */
const PADDING = 24
const [LEAST, MOST] = [92, 190]

function averageName({ follows = 'level', centre }: Segment): string[] {
  if (follows !== 'level') return [FOLLOWED[follows] ?? 'In season']
  return [centre === 'median' ? 'Median' : 'Average']
}

/** How a line is called: an equation is told whole, or by what it is of. */
function namesOf(line: Line): string[] {
  const name = lineName(line)
  return line.made === 'trend' && !line.name ? [name, 'Trend line', 'Trend'] : [name]
}

/** The tags of the last segment that is shown. */
export function tagTexts(chart: Chart, shown: Shown): TagText[] {
  const { numbers } = chart.kpi
  const segment = chart.segments
    .filter((one) => one.stop > (chart.shown[0] ?? 0) && one.first < (chart.shown[1] ?? 0))
    .at(-1)
  const tags: TagText[] = []
  function add(
    name: LineName,
    panel: TagText['panel'],
    names: string[],
    value: number | null,
    [write, amount] = [levelText, levelAmountText],
  ) {
    if (value === null) return
    tags.push({
      name,
      panel,
      names,
      value,
      text: write(value, numbers),
      amount: amount(value, numbers),
    })
  }
  if (segment) {
    // Where limits follow something, a tag tells what they are at the last point.
    const end = (line: 'centre' | 'upper' | 'lower', level: number | null) =>
      segment.follows === 'level' ? level : (chart.points[line]?.at(-1) ?? level)
    const mean = segment.spread === 'median_range' ? 'Median' : 'Average'
    if (shown.limits) add('upper', 'values', ['Upper limit', 'Upper'], end('upper', segment.upper))
    if (shown.average)
      add('average', 'values', averageName(segment), end('centre', segment.average))
    if (shown.limits) add('lower', 'values', ['Lower limit', 'Lower'], end('lower', segment.lower))
    if (shown.limits) add('range_limit', 'ranges', ['Range limit', 'Limit'], segment.range_limit)
    if (shown.average) add('average_range', 'ranges', [`${mean} mR`, 'mR'], segment.average_range)
  }
  if (shown.target) {
    const { target_now: low, target_high_now: high } = chart
    const names = high === null ? ['Target'] : ['Target from', 'From']
    add('target', 'values', names, low, [valueText, amountText])
    if (high !== null) add('target', 'values', ['Target to', 'To'], high, [valueText, amountText])
  }
  for (const line of [...drawnLines(chart), ...linesApart(chart)]) {
    if (line.shows === 'none' || line.level === null) continue
    tags.push({
      name: `line ${line.key}`,
      panel: line.other_scale ? 'totals' : 'values',
      names: line.shows === 'value' ? [''] : namesOf(line),
      value: line.level,
      text: line.shows === 'name' ? '' : line.text,
      amount: line.amount_text,
      line,
    })
  }
  return tags
}

/** The room that tags take beside a plot: as much as their texts, within reason. */
export function tagRoom(tags: TagText[], width: number, narrow: boolean): number {
  if (narrow) {
    const widest = Math.max(0, ...tags.map((tag) => textWidth(tag.text, 700)))
    return Math.min(width * 0.4, Math.max(34, widest + 12))
  }
  const widest = Math.max(
    0,
    ...tags.map((tag) => textWidth(tag.names[0] ?? '') + textWidth(tag.text, 700) + PADDING),
  )
  return Math.min(MOST, Math.max(LEAST, widest))
}

/** As much of a tag's name as fits beside its value. */
export function tagName(tag: TagText, room: number): string {
  const left = room - textWidth(tag.text, 700) - PADDING + 4
  // A name of one's own has no shorter way to say it.
  return tag.line && tag.names.length === 1
    ? fitted(tag.names[0] ?? '', left)
    : shortest(tag.names, left)
}
