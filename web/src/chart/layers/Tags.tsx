import { formatNumber, withUnit } from '../../shared/writing.ts'
import classes from '../Chart.module.css'
import type { Geometry } from '../model/geometry.ts'
import { spreadOut } from '../model/labelPlacement.ts'
import type { Chart, Shown } from '../model/types.ts'

export type LineName = 'average' | 'upper' | 'lower' | 'target' | 'range_limit' | 'average_range'

interface Tag {
  name: LineName
  label: string
  value: number
  y: number
  color: string
}

const TAG_HEIGHT = 20

/** Direct tags at the lines' right ends, pushed apart; each opens its line. */
export function Tags({
  chart,
  geometry,
  shown,
  preview,
  onOpen,
}: {
  chart: Chart
  geometry: Geometry
  shown: Shown
  preview: boolean
  onOpen: (line: LineName, y: number) => void
}) {
  const span = geometry.spans.at(-1)
  const color = preview ? 'var(--mark-run)' : 'var(--sea)'
  const { y, ry } = geometry
  const upper: Tag[] = []
  const lower: Tag[] = []
  function add(to: Tag[], name: LineName, label: string, value: number | null, place: typeof y) {
    if (value === null) return
    to.push({
      name,
      label,
      value,
      y: place(value),
      color: name === 'target' ? 'var(--target)' : color,
    })
  }
  if (span) {
    const { segment } = span
    // Where limits follow something, a tag tells what they are at the last point.
    const end = (line: 'centre' | 'upper' | 'lower', level: number | null) =>
      segment.follows === 'level' ? level : (chart.points[line]?.at(-1) ?? level)
    const medianRange = segment.spread === 'median_range'
    if (shown.limits) add(upper, 'upper', 'Upper limit', end('upper', segment.upper), y)
    if (shown.average)
      add(upper, 'average', averageName(segment), end('centre', segment.average), y)
    if (shown.limits) add(upper, 'lower', 'Lower limit', end('lower', segment.lower), y)
    if (shown.limits) add(lower, 'range_limit', 'Range limit', segment.range_limit, ry)
    if (shown.average) {
      add(
        lower,
        'average_range',
        medianRange ? 'Median mR' : 'Average mR',
        segment.average_range,
        ry,
      )
    }
  }
  if (shown.target) add(upper, 'target', 'Target', chart.target_now, y)
  return (
    <g>
      <TagColumn tags={upper} panel={geometry.values} {...{ chart, geometry, onOpen }} />
      <TagColumn tags={lower} panel={geometry.ranges} {...{ chart, geometry, onOpen }} />
    </g>
  )
}

const FOLLOWED = { trend: 'Trend', weekday: 'In season', month: 'In season', quarter: 'In season' }

function averageName({ follows = 'level', centre }: Chart['segments'][number]): string {
  if (follows !== 'level') return FOLLOWED[follows]
  return centre === 'median' ? 'Median' : 'Average'
}

function TagColumn({
  tags,
  panel,
  chart,
  geometry,
  onOpen,
}: {
  tags: Tag[]
  panel: [number, number]
  chart: Chart
  geometry: Geometry
  onOpen: (line: LineName, y: number) => void
}) {
  const { right, width, narrow } = geometry
  const half = TAG_HEIGHT / 2
  const places = spreadOut(
    tags.map((tag) => tag.y),
    TAG_HEIGHT + 2,
    panel[0] + half - 6,
    panel[1] - half + 10,
  )
  const x = right + (narrow ? 3 : 8)
  const tagWidth = width - x - 1
  return tags.map((tag, n) => {
    const place = places[n] ?? tag.y
    const decimals = tag.name === 'target' ? chart.kpi.decimals : chart.kpi.level_decimals
    const text = formatNumber(tag.value, decimals)
    const open = () => onOpen(tag.name, place)
    return (
      // biome-ignore lint/a11y/useSemanticElements: an SVG has no button element
      <g
        key={tag.name}
        role="button"
        tabIndex={0}
        aria-label={`${tag.label} ${withUnit(text, chart.kpi.unit)}: how it was made`}
        className={classes.tag}
        data-line={tag.name}
        onClick={open}
        onKeyDown={(event) => {
          if (event.key === 'Enter' || event.key === ' ') {
            event.preventDefault()
            open()
          }
        }}
      >
        <path d={`M${right},${tag.y}L${x},${place}`} stroke={tag.color} fill="none" />
        <rect
          x={x}
          y={place - half}
          width={tagWidth}
          height={TAG_HEIGHT}
          rx={4}
          fill="var(--card)"
          stroke={tag.color}
        />
        {!narrow && (
          <text x={x + 7} y={place} dy="0.34em" fill={tag.color}>
            {tag.label}
          </text>
        )}
        <text
          x={narrow ? x + tagWidth / 2 : x + tagWidth - 7}
          y={place}
          dy="0.34em"
          textAnchor={narrow ? 'middle' : 'end'}
          fill={tag.color}
          className={classes.tagValue}
        >
          {text}
        </text>
      </g>
    )
  })
}
