import { bisectLeft } from 'd3-array'
import { type KeyboardEvent, useRef } from 'react'
import { shortPeriod } from '../../shared/writing.ts'
import classes from '../Chart.module.css'
import { useDragAcross } from '../gestures/useDragAcross.ts'
import { type Geometry, positionAt } from '../model/geometry.ts'
import type { Chart } from '../model/types.ts'

/** A limit window: the positions of its first and its last point. */
export interface Window {
  first: number
  last: number
}

const other = (end: keyof Window): keyof Window => (end === 'first' ? 'last' : 'first')

interface Props {
  chart: Chart
  geometry: Geometry
  window: Window
  /** The positions it has to stay within, the last one included. */
  bounds: Window
  /** `dragging` while the hand still moves it. */
  onChange: (window: Window, dragging: boolean) => void
}

/** The window that limits come from: a band with a handle at each end, or dragged anew. */
export function Baseline({ chart, geometry, window, bounds, onChange }: Props) {
  const half = geometry.spacing / 2
  const { position: positions } = chart.points
  // An end outside the dates shown is at their edge; one that is not drawn, at the next that is.
  const indexOf = (position: number) => bisectLeft(positions, position)
  const x = (position: number) => {
    if (position < (positions[0] ?? 0)) return geometry.left
    const time = geometry.times[indexOf(position)]
    return time === undefined ? geometry.right : geometry.x(time)
  }
  const left = Math.max(geometry.left, x(window.first) - half)
  const right = Math.min(geometry.right, x(window.last) + half)
  const [top, bottom] = [geometry.values[0] - 10, geometry.bottom]

  function inBounds(px: number): number | undefined {
    const position = positionAt(chart, geometry, px)
    return position === undefined
      ? undefined
      : Math.max(bounds.first, Math.min(bounds.last, position))
  }

  function moved(end: keyof Window, position: number): Window {
    const next = { ...window, [end]: position }
    return next.first <= next.last ? next : { first: next.last, last: next.first }
  }

  const before = useRef(window)
  const from = useRef(window.first)
  const bind = useDragAcross<keyof Window | 'anew'>({
    onHold: (what, px) => {
      before.current = window
      const position = inBounds(px)
      // The end that is dragged; drawn anew, the one that stays where the hand took hold.
      from.current = what === 'anew' ? (position ?? window.first) : window[other(what)]
      return position !== undefined
    },
    onMove: (_, px) => {
      const to = inBounds(px)
      if (to === undefined) return
      const [first, last] = [Math.min(from.current, to), Math.max(from.current, to)]
      onChange({ first, last }, true)
    },
    onDrop: () => onChange(window, false),
    onCancel: () => onChange(before.current, false),
  })

  function step(end: keyof Window, event: KeyboardEvent) {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
    if (!by) return
    event.preventDefault()
    event.stopPropagation()
    const index = indexOf(window[end])
    const beside = positions[index] === window[end] || by < 0 ? index + by : index
    const position = positions[beside]
    if (position !== undefined && position >= bounds.first && position <= bounds.last)
      onChange(moved(end, position), false)
  }

  return (
    <g data-part="baseline" data-on-screen>
      <rect
        x={geometry.left}
        y={top}
        width={Math.max(0, geometry.right - geometry.left)}
        height={bottom - top}
        fill="transparent"
        className={classes.draw}
        {...bind('anew')}
      />
      <rect
        x={left}
        y={top}
        width={Math.max(0, right - left)}
        height={bottom - top}
        className={classes.window}
      />
      {(['first', 'last'] as const).map((end) => {
        const at = end === 'first' ? left : right
        const period = chart.points.period[geometry.indexOf.get(window[end]) ?? -1] ?? ''
        return (
          <g
            key={end}
            role="slider"
            tabIndex={0}
            className={classes.handle}
            aria-label={
              end === 'first' ? 'First point of the baseline' : 'Last point of the baseline'
            }
            aria-valuemin={bounds.first}
            aria-valuemax={bounds.last}
            aria-valuenow={window[end]}
            aria-valuetext={
              period ? shortPeriod(period, chart.kpi.grain) : 'not in the dates shown'
            }
            {...bind(end)}
            onKeyDown={(event) => step(end, event)}
          >
            <line x1={at} x2={at} y1={top} y2={bottom} stroke="var(--sea)" strokeWidth={1.5} />
            <rect x={at - 12} y={top} width={24} height={bottom - top} fill="transparent" />
            <rect
              className={classes.grip}
              x={at - 4.5}
              y={top + 4}
              width={9}
              height={26}
              rx={2.5}
              fill="var(--sea)"
            />
          </g>
        )
      })}
    </g>
  )
}
