import { useMergedRef } from '@mantine/hooks'
import { type KeyboardEvent, type ReactNode, type Ref, useMemo, useState } from 'react'
import { useSize } from '../shared/looking/useSize.ts'
import classes from './Chart.module.css'
import { DrawingProvider } from './drawing.ts'
import { useZoom } from './gestures/useZoom.ts'
import { Axes } from './layers/Axes.tsx'
import type { AxisActs } from './layers/AxisHandle.tsx'
import { Baseline, type Window } from './layers/Baseline.tsx'
import { Lines } from './layers/context/Lines.tsx'
import { Outside } from './layers/context/Outside.tsx'
import { Stripes } from './layers/context/Stripes.tsx'
import { Totals } from './layers/context/Totals.tsx'
import { Labels } from './layers/Labels.tsx'
import { Limits } from './layers/Limits.tsx'
import { Begun, type BegunMark } from './layers/lane/Begun.tsx'
import { type Changed, Changes } from './layers/lane/Changes.tsx'
import { Lane, type LaneActs, type ShiftHandles } from './layers/lane/Lane.tsx'
import { type Candidate, type Pin, Story } from './layers/lane/Story.tsx'
import { Plot } from './layers/Plot.tsx'
import { Followed, Hairline, Lit, Ring } from './layers/Pointing.tsx'
import { PointingArea } from './layers/PointingArea.tsx'
import { Points } from './layers/Points.tsx'
import { Readout, spoken } from './layers/Readout.tsx'
import { type SelectedSpan, Selection } from './layers/selection/Selection.tsx'
import { Split } from './layers/selection/Split.tsx'
import { type Pull, Tags } from './layers/Tags.tsx'
import { layOut, positionAt } from './model/geometry.ts'
import { marksOf } from './model/markKinds.ts'
import type { LineName } from './model/tags.ts'
import type { Chart, Shown } from './model/types.ts'

interface Props {
  chart: Chart
  shown: Shown
  height: number
  /** The segments, first and last, whose limits are those of settings that are not kept yet. */
  previewed?: [number, number] | null
  /** The chart as it is kept, drawn thin under what is previewed. */
  kept?: Chart | null
  moving?: number | null
  /** What is new, changed or missing beside what is saved, by position. */
  changes?: Changed | null
  selected?: number | null
  /** Points that are lit because something beside the chart speaks of them. */
  lit?: readonly number[]
  /** Tells which point the pointer is at. */
  onHover?: (position: number | null) => void
  pins?: Pin[]
  onOpenPin?: (pin: Pin, at: { x: number; y: number }) => void
  onMovePin?: (pin: Pin, days: number) => void
  /** What was done to move the KPI, each from a day on. */
  begun?: readonly BegunMark[]
  onOpenBegun?: (mark: BegunMark) => void
  /** Where the process may have shifted; a chart that is only tried knows of none itself. */
  candidates?: Candidate[]
  onOpenCandidate?: (candidate: Candidate, at: { x: number; y: number }) => void
  /** The limit window that is being chosen, and what it has to stay within. */
  baseline?: {
    window: Window
    bounds: Window
    onChange: (window: Window, dragging: boolean) => void
  } | null
  onSelect?: (position: number | null) => void
  onKey?: (event: KeyboardEvent<HTMLDivElement>) => void
  onOpenLine?: (line: LineName, at: { x: number; y: number }) => void
  /** Adds a line at the right edge; null where none can be. */
  onAddLine?: ((at: { x: number; y: number }) => void) | null
  /** What levels can be pulled up or down, and what happens then. */
  pull?: Pull
  /** Lines far off the values that are brought into view. */
  brought?: readonly string[]
  onBring?: (key: string) => void
  axis?: AxisActs
  onOpenSegment?: (number: number, at: { x: number; y: number }) => void
  onPlaceAt?: (position: number) => void
  /** Days on which a state of the world held that the KPI is compared in and out of. */
  stripes?: readonly SelectedSpan[]
  /** Stretches of periods that are selected. */
  spans?: readonly SelectedSpan[]
  /** Where the periods before and after are compared; null where they are not. */
  split?: number | null
  onSplit?: (position: number) => void
  /** A stretch is pulled over the plot, from one position to another; `more` keeps the others. */
  onSelectSpan?: (from: number, to: number, more: boolean) => void
  /** The wheel or two fingers ask for so many times the dates, around a share of the width. */
  onZoom?: (factor: number, around: number) => void
  /** Whether it follows the hairline that it shares with others on its screen, and moves it. */
  shared?: boolean
  /** What moves the shifts; null where they stand. */
  handles?: ShiftHandles | null
  svgRef?: Ref<SVGSVGElement>
  /** Its width in pixels where it is drawn for paper, and no browser measures it. */
  drawnAt?: number
  /** Whether the focus comes here when what had it on the page has gone. */
  home?: boolean
  /** How much larger than it is laid out it is shown. */
  scale?: number
  children?: ReactNode
}

const nothing = () => undefined
const NONE: readonly number[] = []
const NO_PINS: Pin[] = []
const NO_MARKS: readonly BegunMark[] = []
const NO_KEYS: readonly string[] = []
const NO_SPANS: readonly SelectedSpan[] = []
const NO_AXIS: AxisActs = { onOpen: nothing, onPull: nothing }
const NO_PULL: Pull = { can: () => false, to: nothing }

/**
 * The X chart, the story lane and the moving range chart, on one time axis. Long as the list of its
 * layers, back to front, and of what each may be given.
 */
export function ChartView({
  chart,
  shown: wanted,
  height,
  home = false,
  previewed = null,
  kept = null,
  moving = null,
  changes = null,
  selected = null,
  lit = NONE,
  onHover = nothing,
  pins = NO_PINS,
  onOpenPin = nothing,
  onMovePin = nothing,
  begun = NO_MARKS,
  onOpenBegun = nothing,
  candidates = chart.candidates,
  onOpenCandidate = nothing,
  baseline = null,
  onSelect = nothing,
  onKey = nothing,
  onOpenLine = nothing,
  onAddLine = null,
  pull = NO_PULL,
  brought = NO_KEYS,
  onBring = nothing,
  axis = NO_AXIS,
  onOpenSegment = nothing,
  onPlaceAt = nothing,
  stripes = NO_SPANS,
  spans = NO_SPANS,
  split = null,
  onSplit = nothing,
  onSelectSpan = nothing,
  onZoom = nothing,
  shared = false,
  handles = null,
  svgRef,
  drawnAt,
  scale = 1,
  children,
}: Props) {
  const { ref, width: measured } = useSize()
  const width = drawnAt ?? measured
  // A value that holds until it changes has no average and no limits.
  const holds = chart.kpi.drawn_as === 'steps'
  const shown = useMemo(
    () => (holds ? { ...wanted, average: false, limits: false } : wanted),
    [wanted, holds],
  )
  const [hovered, setHovered] = useState<number | null>(null)
  const geometry = useMemo(
    () => layOut(chart, Math.max(300, width), height, shown, kept, brought),
    [chart, width, height, shown, kept, brought],
  )
  const marks = useMemo(() => marksOf(chart), [chart])
  const chosen = selected === null ? undefined : geometry.indexOf.get(selected)
  // A shift in the hand is what is looked at; a readout would be in its way.
  const read =
    previewed !== null || baseline !== null
      ? undefined
      : hovered !== null && hovered < geometry.times.length
        ? hovered
        : chosen

  const zoomRef = useZoom((factor, px) =>
    onZoom(factor, (px - geometry.left) / Math.max(1, geometry.right - geometry.left)),
  )

  const acts: LaneActs = {
    onOpen: (number, x) => onOpenSegment(number, { x, y: geometry.lane[0] }),
    onPlaceAt: (x) => {
      const position = positionAt(chart, geometry, x)
      if (position !== undefined) onPlaceAt(position)
    },
    handles,
  }

  return (
    <div
      ref={useMergedRef(ref, zoomRef)}
      className={classes.frame}
      role="application"
      aria-roledescription="process behavior chart"
      aria-label={`${chart.kpi.name}. ${chart.sentence.headline} Arrow keys walk the points.`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the chart is walked with the arrow keys
      tabIndex={0}
      data-focus-home={home ? '' : undefined}
      onKeyDown={onKey}
    >
      {width > 0 && (
        <svg
          ref={svgRef}
          className={classes.svg}
          width={geometry.width * scale}
          height={height * scale}
          viewBox={`0 0 ${geometry.width} ${height}`}
          role="presentation"
        >
          <Plot geometry={geometry}>
            <Limits {...{ chart, geometry, shown, previewed, kept }} />
            <Stripes spans={stripes} geometry={geometry} />
            <Lines chart={chart} geometry={geometry} inFront={false} />
          </Plot>
          {read !== undefined && <Hairline geometry={geometry} index={read} />}
          <Plot geometry={geometry}>
            <Points chart={chart} geometry={geometry} marks={marks} />
            <Lines chart={chart} geometry={geometry} inFront />
          </Plot>
          <Totals chart={chart} geometry={geometry} />
          <Selection chart={chart} geometry={geometry} spans={spans} />
          <Axes chart={chart} geometry={geometry} {...axis} />
          {changes && <Changes chart={chart} geometry={geometry} changes={changes} />}
          <Labels {...{ chart, geometry, candidates }} />
          {read !== undefined && <Ring chart={chart} geometry={geometry} index={read} />}
          <Lit chart={chart} geometry={geometry} positions={lit} />
          {shared && <Followed chart={chart} geometry={geometry} />}
          <PointingArea
            {...{ chart, geometry, shared, hovered, setHovered, selected }}
            {...{ onHover, onSelect, onSelectSpan }}
          />
          {split !== null && <Split {...{ chart, geometry }} at={split} onMove={onSplit} />}
          <Outside chart={chart} geometry={geometry} onBring={onBring} />
          {baseline && <Baseline chart={chart} geometry={geometry} {...baseline} />}
          <Lane chart={chart} geometry={geometry} moving={moving} acts={acts} />
          <Begun geometry={geometry} marks={begun} onOpen={onOpenBegun} />
          <Story
            {...{ candidates, geometry, pins, onMovePin }}
            onOpenPin={(pin, x) => onOpenPin(pin, { x, y: geometry.story[1] })}
            onOpenCandidate={(one, x) => onOpenCandidate(one, { x, y: geometry.lane[0] - 14 })}
          />
          <Tags
            chart={chart}
            geometry={geometry}
            shown={shown}
            preview={previewed !== null && previewed[1] >= chart.segments.length - 1}
            pull={pull}
            onAdd={onAddLine && ((y) => onAddLine({ x: geometry.right + 8, y }))}
            onOpen={(line, y) => onOpenLine(line, { x: geometry.right + 8, y })}
          />
        </svg>
      )}
      {width > 0 && read !== undefined && (
        <Readout chart={chart} geometry={geometry} index={read} />
      )}
      <div className="unseen" aria-live="polite">
        {chosen === undefined ? '' : spoken(chart, chosen)}
      </div>
      <DrawingProvider value={geometry}>{children}</DrawingProvider>
    </div>
  )
}
