import { type MouseEvent, useRef } from 'react'
import { useDragAcross } from '../gestures/useDragAcross.ts'
import { useHairline } from '../hairline.tsx'
import { type Geometry, nearest, positionAt } from '../model/geometry.ts'
import type { Chart } from '../model/types.ts'

/** How far the hand goes over the plot before it selects, in pixels. */
const PULL = 6

interface Props {
  chart: Chart
  geometry: Geometry
  shared: boolean
  hovered: number | null
  setHovered: (index: number | null) => void
  selected: number | null
  onHover: (position: number | null) => void
  onSelect: (position: number | null) => void
  onSelectSpan: (from: number, to: number, more: boolean) => void
}

/** The plot as what a pointer meets: hovered, clicked, pulled over. */
export function PointingArea(props: Props) {
  const { chart, geometry, shared, hovered, setHovered, selected } = props
  const { onHover, onSelect, onSelectSpan } = props
  const hairline = useHairline()
  const pulling = useRef<{ from: number; more: boolean } | null>(null)
  const bindPlot = useDragAcross<{ more: boolean }>(
    {
      onHold: ({ more }, px) => {
        const from = positionAt(chart, geometry, px)
        if (from === undefined) return false
        pulling.current = { from, more }
        return true
      },
      onMove: (_, px) => {
        const to = positionAt(chart, geometry, px)
        const held = pulling.current
        if (to === undefined || !held) return
        onSelectSpan(held.from, to, held.more)
        // From here on it is this selection that grows.
        held.more = false
      },
      onDrop: () => undefined,
      onCancel: () => {
        pulling.current = null
      },
    },
    PULL,
  )
  function pointAt(event: MouseEvent<SVGElement>): number | null {
    const box = event.currentTarget.getBoundingClientRect()
    return nearest(geometry, event.clientX - box.left + geometry.left)
  }

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: pointing is the mouse's way; the frame takes the keys
    <rect
      data-part="plot"
      data-on-screen
      x={geometry.left}
      y={geometry.values[0] - 10}
      width={Math.max(0, geometry.right - geometry.left)}
      height={geometry.bottom - geometry.values[0] + 10}
      fill="transparent"
      onPointerMove={(event) => {
        // What is being selected is looked at; a readout would lie over it.
        const index = event.buttons && pulling.current ? null : pointAt(event)
        if (shared) return hairline.set(index === null ? null : (geometry.times[index] ?? null))
        if (index === hovered) return
        setHovered(index)
        onHover(index === null ? null : (chart.points.position[index] ?? null))
      }}
      onPointerLeave={() => {
        setHovered(null)
        onHover(null)
        if (shared) hairline.set(null)
      }}
      onPointerDown={(event) => {
        pulling.current = null
        bindPlot({ more: event.shiftKey }).onPointerDown(event)
      }}
      onClick={(event) => {
        // The click that ends a pull chooses no point.
        if (pulling.current) return
        const index = pointAt(event)
        const position = index === null ? undefined : chart.points.position[index]
        onSelect(position === undefined || position === selected ? null : position)
      }}
    />
  )
}
