import { bisectLeft } from 'd3-array'
import type { KeyboardEvent, PointerEvent } from 'react'
import { shortPeriod } from '../../shared/writing.ts'
import classes from '../Chart.module.css'
import { type Geometry, nearest } from '../model/geometry.ts'
import type { Chart } from '../model/types.ts'

/** A limit window in the hand: the positions of its first and its last point. */
export interface Window {
  first: number
  last: number
}

interface Props {
  chart: Chart
  geometry: Geometry
  window: Window
  /** The positions it has to stay within, the last one included. */
  bounds: Window
  onChange: (window: Window) => void
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
  const [top, bottom] = [geometry.values[0] - 10, geometry.ranges[1]]

  function positionAt(px: number): number | undefined {
    const index = nearest(geometry, px)
    const position = index === null ? undefined : chart.points.position[index]
    return position === undefined
      ? undefined
      : Math.max(bounds.first, Math.min(bounds.last, position))
  }

  function set(end: keyof Window, position: number) {
    const next = { ...window, [end]: position }
    onChange(next.first <= next.last ? next : { first: next.last, last: next.first })
  }

  function follow(event: PointerEvent<SVGElement>, at: (position: number) => void) {
    if (event.button !== 0) return
    const svg = event.currentTarget.ownerSVGElement
    if (!svg) return
    event.preventDefault()
    const { left } = svg.getBoundingClientRect()
    const listening = new AbortController()
    const { signal } = listening
    const move = (moved: globalThis.PointerEvent) => {
      const position = positionAt(moved.clientX - left)
      if (position !== undefined) at(position)
    }
    globalThis.addEventListener('pointermove', move, { signal })
    for (const end of ['pointerup', 'pointercancel'])
      globalThis.addEventListener(end, () => listening.abort(), { signal })
  }

  function step(end: keyof Window, event: KeyboardEvent) {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
    if (!by) return
    event.preventDefault()
    event.stopPropagation()
    const index = indexOf(window[end])
    const beside = positions[index] === window[end] || by < 0 ? index + by : index
    const position = positions[beside]
    if (position !== undefined && position >= bounds.first && position <= bounds.last)
      set(end, position)
  }

  return (
    <g data-part="baseline">
      <rect
        x={geometry.left}
        y={top}
        width={Math.max(0, geometry.right - geometry.left)}
        height={bottom - top}
        fill="transparent"
        className={classes.draw}
        onPointerDown={(event) => {
          const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect()
          const from = positionAt(event.clientX - (box?.left ?? 0))
          if (from === undefined) return
          follow(event, (to) => onChange({ first: Math.min(from, to), last: Math.max(from, to) }))
        }}
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
            onPointerDown={(event) => {
              event.currentTarget.focus()
              follow(event, (position) => set(end, position))
            }}
            onKeyDown={(event) => step(end, event)}
          >
            <line x1={at} x2={at} y1={top} y2={bottom} stroke="var(--sea)" strokeWidth={1.5} />
            <rect x={at - 11} y={top} width={22} height={bottom - top} fill="transparent" />
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
