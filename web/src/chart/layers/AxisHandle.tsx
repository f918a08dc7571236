import { useRef } from 'react'
import classes from '../Chart.module.css'
import { onPress } from '../gestures/onPress.ts'
import { useDragAcross } from '../gestures/useDragAcross.ts'
import type { Geometry } from '../model/geometry.ts'

export interface AxisActs {
  /** The axis is opened: how values are drawn. */
  onOpen: (at: { x: number; y: number }) => void
  /** One of its ends is pulled to a level; null where the hand gives up. */
  onPull: (end: 'low' | 'high', level: number | null, dropped: boolean) => void
}

/** How far the axis is pulled before it is stretched rather than opened, in pixels. */
const PULL = 4
/** The nearest that the hand comes to the end that stays, in pixels. */
const NEAREST = 12

interface Held {
  end: 'low' | 'high'
  /** The level that the hand holds, which stays under it. */
  level: number
  from: Geometry
}

/** The axis of the values: a click opens it, a pull at its upper or its lower half moves that end. */
export function AxisHandle({ geometry, onOpen, onPull }: { geometry: Geometry } & AxisActs) {
  const { left, values } = geometry
  const held = useRef<Held | null>(null)
  const pulled = useRef<number | null>(null)
  const middle = (values[0] + values[1]) / 2
  const bind = useDragAcross<null>(
    {
      onHold: (_, py) => {
        held.current = {
          end: py < middle ? 'high' : 'low',
          level: geometry.y.invert(py),
          from: geometry,
        }
        return true
      },
      onMove: (_, py) => {
        if (!held.current) return
        const { end, level, from } = held.current
        const [low, high] = from.y.domain
        const [top, bottom] = from.values
        // The end that stays, and how far from it the level that is held now lies.
        const stays = end === 'high' ? low : high
        const way = end === 'high' ? bottom - py : py - top
        pulled.current = stays + ((level - stays) * (bottom - top)) / Math.max(NEAREST, way)
        onPull(end, pulled.current, false)
      },
      onDrop: () => {
        if (held.current) onPull(held.current.end, pulled.current, true)
      },
      onCancel: () => {
        pulled.current = null
        if (held.current) onPull(held.current.end, null, false)
      },
    },
    PULL,
    'y',
  )
  const open = () => onOpen({ x: left, y: middle })
  return (
    // biome-ignore lint/a11y/useSemanticElements: an SVG has no button element
    <rect
      {...bind(null)}
      data-on-screen
      role="button"
      tabIndex={0}
      aria-label="Axis: how values are drawn"
      className={classes.axisHandle}
      x={0}
      y={values[0] - 4}
      width={left}
      height={Math.max(0, values[1] - values[0] + 8)}
      fill="transparent"
      onClick={() => {
        // The click that ends a pull opens nothing.
        if (pulled.current === null) open()
        pulled.current = null
      }}
      onKeyDown={onPress(open)}
    >
      <title>How values are drawn, and where the axis ends</title>
    </rect>
  )
}
