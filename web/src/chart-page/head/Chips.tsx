import { Menu } from '@mantine/core'
import type { ReactNode } from 'react'
import { COLORS, DASHES, drawnBands, lineName, WEIGHTS } from '../../chart/model/overlays.ts'
import type { Band, Chart, Line, Shown } from '../../chart/model/types.ts'
import { textWidth } from '../../chart/text/measure.ts'
import { amountText, valueText } from '../../shared/numbers.ts'
import classes from '../ChartPage.module.css'

interface Props {
  chart: Chart
  shown: Shown
  /** Shows or hides a line, by its name or key. */
  onToggle: (name: string, hide: boolean) => void
  /** Pixels that the chips and the dates have. */
  room: number
  onOpenLine: (key: string) => void
  onOpenBand: (band: Band) => void
  /** What adds more of them. */
  children: ReactNode
}

/** Pixels that a chip takes beside its text, and the most that its text has. */
const [AROUND, WIDEST] = [86, 180]
/** Pixels of the chips of the chart itself, and of the dates beside all of them. */
const OTHERS = 870

/** The lines of the chart, each switched on and off by its chip. */
export function Chips({ chart, shown, room, children, ...own }: Props) {
  const most = fitting(chart.lines, room)
  const { kpi, target_now: target, target_high_now: high } = chart
  const chip = (name: keyof Shown, label: string, sample: ReactNode) => (
    <button
      type="button"
      className={classes.chip}
      aria-pressed={shown[name]}
      onClick={() => own.onToggle(name, shown[name])}
    >
      <svg width={18} height={12} aria-hidden="true" focusable="false">
        {sample}
      </svg>
      {label}
    </button>
  )
  return (
    <>
      {kpi.drawn_as !== 'steps' &&
        chip(
          'average',
          'Average',
          <path d="M1 6H17" stroke="var(--sea)" strokeWidth={2.2} strokeLinecap="round" />,
        )}
      {kpi.drawn_as !== 'steps' &&
        chip(
          'limits',
          'Natural process limits',
          <>
            <rect x={1} y={1} width={16} height={10} fill="var(--mist)" />
            <path d="M1 1.500H17M1 10.500H17" stroke="var(--sea)" strokeDasharray="3 2" />
          </>,
        )}
      {target !== null &&
        chip(
          'target',
          high === null
            ? `Target ${amountText(target, kpi.numbers)}`
            : `Target ${valueText(target, kpi.numbers)} to ${amountText(high, kpi.numbers)}`,
          <path d="M1 6H17" stroke="var(--target)" strokeWidth={1.8} strokeDasharray="6 2 2 2" />,
        )}
      {chart.lines.slice(0, most).map((line) => (
        <LineChip key={line.key} line={line} {...own} />
      ))}
      {(chart.lines.length > most || chart.bands.length > 0) && (
        <More lines={chart.lines.slice(most)} chart={chart} {...own} />
      )}
      {children}
    </>
  )
}

/** How many lines have a chip, so that all chips and the dates stay in one row. */
function fitting(lines: Line[], room: number): number {
  let left = room - OTHERS
  const over = lines.findIndex((line) => {
    left -= Math.min(WIDEST, textWidth(said(line))) + AROUND
    return left < 0
  })
  return over === -1 ? lines.length : over
}

type Opens = Pick<Props, 'onOpenLine' | 'onToggle' | 'onOpenBand'>

function Sample({ line }: { line: Line }) {
  return (
    <svg width={18} height={12} aria-hidden="true" focusable="false">
      <path
        d="M1 6H17"
        stroke={COLORS[line.color]}
        strokeWidth={WEIGHTS[line.weight]}
        strokeDasharray={DASHES[line.dash]}
      />
    </svg>
  )
}

/** What a chip says of a line; one on another scale is told by its amount alone. */
const said = (line: Line) =>
  line.other_scale ? `${lineName(line)} ${line.amount_text}` : lineName(line)

/** Shows and hides a line; it is opened beside that, as by its tag. */
function LineChip({ line, onToggle, onOpenLine }: Opens & { line: Line }) {
  return (
    <span className={classes.lineChip}>
      <button
        type="button"
        className={classes.chip}
        aria-pressed={!line.hidden}
        title={`${line.says} ${line.over}`}
        onClick={() => onToggle(line.key, !line.hidden)}
      >
        <Sample line={line} />
        <span>{said(line)}</span>
      </button>
      <button
        type="button"
        className={classes.chipOpen}
        aria-label={`Open ${lineName(line)}`}
        onClick={() => onOpenLine(line.key)}
      >
        …
      </button>
    </span>
  )
}

/** The lines that have no room for a chip, and the bands. */
function More({ lines, chart, onOpenLine, onOpenBand }: Opens & { lines: Line[]; chart: Chart }) {
  const drawn = new Set(drawnBands(chart).map(({ band }) => band.key))
  return (
    <Menu position="bottom-start">
      <Menu.Target>
        <button type="button" className={classes.chip} aria-pressed={true}>
          {lines.length + chart.bands.length} more
        </button>
      </Menu.Target>
      <Menu.Dropdown mah={360} style={{ overflowY: 'auto' }}>
        {lines.map((line) => (
          <Menu.Item
            key={line.key}
            leftSection={<Sample line={line} />}
            onClick={() => onOpenLine(line.key)}
          >
            {said(line)}
            {line.hidden ? ', hidden' : ''}
          </Menu.Item>
        ))}
        {chart.bands.map((band) => (
          <Menu.Item key={band.key} onClick={() => onOpenBand(band)}>
            {band.name || 'Band'}: {band.says}
            {drawn.has(band.key) ? '' : ', not drawn'}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  )
}
