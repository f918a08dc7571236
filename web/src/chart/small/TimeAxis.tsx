import { useState } from 'react'
import type { DatesAsked } from '../../shared/looking/useDates.ts'
import { useDragAcross } from '../gestures/useDragAcross.ts'
import { linear } from '../model/scale.ts'
import { tickLine, ticksOf } from '../model/time.ts'
import type { Span } from './place.ts'
import { dayOf } from './place.ts'

interface Props {
  domain: Span
  width: number
  pad?: number
  /** Dates that are pulled along the axis are looked at. */
  onChoose: (dates: DatesAsked) => void
}

const HEIGHT = 22

/** The one time axis of several charts; a stretch that is pulled along it is what is shown next. */
export function TimeAxis({ domain, width, pad = 5, onChoose }: Props) {
  const x = linear(domain, [pad, width - pad])
  const [pulled, setPulled] = useState<[number, number] | null>(null)
  const ends = (from: number, by: number): [number, number] => [
    Math.min(from, from + by),
    Math.max(from, from + by),
  ]
  const bind = useDragAcross<{ from: number }>(
    {
      onHold: (held, px) => {
        held.from = px
        return true
      },
      onMove: ({ from }, _, by) => setPulled(ends(from, by)),
      onDrop: ({ from }, by) => {
        setPulled(null)
        const [first, last] = ends(from, by).map((px) => dayOf(x.invert(px)))
        if (first && last && first < last) onChoose({ first, last })
      },
      onCancel: () => setPulled(null),
    },
    4,
  )
  if (width < 40) return null
  return (
    <svg
      width={width}
      height={HEIGHT}
      aria-label="Dates. Pull along them to look closer."
      role="img"
      style={{ cursor: 'col-resize', display: 'block', touchAction: 'pan-y' }}
    >
      <rect width={width} height={HEIGHT} fill="transparent" {...bind({ from: 0 })} />
      {pulled && (
        <rect
          x={pulled[0]}
          width={pulled[1] - pulled[0]}
          height={HEIGHT}
          fill="var(--sea)"
          fillOpacity={0.2}
          pointerEvents="none"
        />
      )}
      {ticksOf([...domain], width).map((tick) => {
        const px = x(tick.time)
        if (px < 14 || px > width - 14) return null
        return (
          <text
            key={tick.time}
            x={px}
            y={15}
            textAnchor="middle"
            fontSize={11.5}
            fill="var(--quiet)"
            pointerEvents="none"
          >
            {tickLine(tick)}
          </text>
        )
      })}
    </svg>
  )
}
