import { type PointerEvent, useRef, useState } from 'react'
import type { Schemas } from '../../api/client.ts'
import { counted, days } from '../../shared/writing.ts'
import classes from '../Chart.module.css'
import type { Geometry } from '../model/geometry.ts'
import type { Chart } from '../model/types.ts'

export type Pin = Schemas['Pin']
export type Candidate = Chart['candidates'][number]

const DAY = 86_400_000
const LETTER = 6.3
/** How far a pin is pulled before it is moved rather than opened, in pixels. */
const PULL = 4

interface Props {
  candidates: Candidate[]
  geometry: Geometry
  pins: Pin[]
  onOpenPin: (pin: Pin, x: number) => void
  /** Moves the one event of a pin by some days. */
  onMovePin: (pin: Pin, days: number) => void
  onOpenCandidate: (candidate: Candidate, x: number) => void
}

/** What happened, below the segments of the lane, and where the process may have shifted. */
export function Story({
  candidates,
  geometry,
  pins,
  onOpenPin,
  onMovePin,
  onOpenCandidate,
}: Props) {
  const places = pins.map((pin) => dateX(geometry, pin.first))
  return (
    <g data-part="story">
      {candidates.map((one) => (
        <CandidateMark key={one.period} one={one} geometry={geometry} onOpen={onOpenCandidate} />
      ))}
      {pins.map((pin, n) => (
        <PinMark
          key={`${pin.first} ${pin.events[0]?.id}`}
          pin={pin}
          x={places[n] ?? 0}
          room={(places[n + 1] ?? geometry.right + 20) - (places[n] ?? 0)}
          geometry={geometry}
          onOpen={onOpenPin}
          onMove={onMovePin}
        />
      ))}
    </g>
  )
}

/** Where a day lies, kept within the plot. */
function dateX(geometry: Geometry, day: string): number {
  const x = geometry.x(Date.parse(`${day}T00:00Z`))
  return Math.max(geometry.left, Math.min(geometry.right, x))
}

function PinMark({
  pin,
  x,
  room,
  geometry,
  onOpen,
  onMove,
}: {
  pin: Pin
  x: number
  room: number
  geometry: Geometry
  onOpen: Props['onOpenPin']
  onMove: Props['onMovePin']
}) {
  const [pulled, setPulled] = useState(0)
  const moved = useRef(false)
  const only = pin.count === 1 ? pin.events[0] : undefined
  const y = geometry.story[0] + 9
  const end = dateX(geometry, pin.last)
  const at = x + pulled
  const name = only ? only.title : counted(pin.count, 'event')
  const shown = name.length * LETTER < room - 16 ? name : only ? '' : String(pin.count)
  const fits = shown.length * LETTER < room - 12
  const byDays = () => Math.round((geometry.x.invert(at) - geometry.x.invert(x)) / DAY)

  function onPointerDown(event: PointerEvent<SVGGElement>) {
    if (event.button !== 0 || !only) return
    const from = event.clientX
    const target = event.currentTarget
    target.setPointerCapture(event.pointerId)
    moved.current = false
    let last = 0
    const move = (next: globalThis.PointerEvent) => {
      last = next.clientX - from
      if (Math.abs(last) > PULL) moved.current = true
      if (moved.current) setPulled(last)
    }
    const drop = () => {
      target.removeEventListener('pointermove', move)
      setPulled(0)
      if (!moved.current) return
      const by = Math.round((geometry.x.invert(x + last) - geometry.x.invert(x)) / DAY)
      if (by) onMove(pin, by)
    }
    target.addEventListener('pointermove', move)
    target.addEventListener('pointerup', drop, { once: true })
    target.addEventListener(
      'pointercancel',
      () => {
        target.removeEventListener('pointermove', move)
        target.removeEventListener('pointerup', drop)
        setPulled(0)
      },
      { once: true },
    )
  }

  return (
    // biome-ignore lint/a11y/useSemanticElements: an SVG has no button element
    <g
      role="button"
      tabIndex={0}
      className={classes.pin}
      data-kind={only?.kind ?? 'several'}
      aria-label={`${name}, ${days(pin.first, pin.last)}. Open.`}
      onPointerDown={onPointerDown}
      onClick={() => {
        if (!moved.current) onOpen(pin, x)
        moved.current = false
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter' || event.key === ' ') {
          event.preventDefault()
          event.stopPropagation()
          onOpen(pin, x)
        }
      }}
    >
      <title>{pulled ? `${byDays()} days` : pin.events.map((one) => one.title).join('\n')}</title>
      <rect
        x={at - 8}
        y={y - 9}
        width={Math.max(20, fits ? shown.length * LETTER + 16 : 20)}
        height={20}
        fill="transparent"
      />
      {end - x > 3 && (
        <line x1={at} x2={end + pulled} y1={y + 7} y2={y + 7} className={classes.span} />
      )}
      <path d={`M${at - 4.5},${y + 4}h9l-4.5,-8z`} className={classes.pinMark} />
      {fits && (
        <text x={at + 8} y={y} dy="0.34em">
          {shown}
        </text>
      )}
    </g>
  )
}

/** A place where the process may have shifted, with the range where it likely began. */
function CandidateMark({
  one,
  geometry,
  onOpen,
}: {
  one: Candidate
  geometry: Geometry
  onOpen: Props['onOpenCandidate']
}) {
  const index = geometry.indexOf.get(one.position)
  if (index === undefined) return null
  const half = geometry.spacing / 2
  const place = (position: number) => {
    const at = geometry.indexOf.get(position)
    return at === undefined ? null : geometry.x(geometry.times[at] ?? 0)
  }
  const x = geometry.x(geometry.times[index] ?? 0) - half
  const [from, to] = [place(one.first) ?? x, place(one.last) ?? x]
  const y = geometry.lane[0] - 6
  return (
    // biome-ignore lint/a11y/useSemanticElements: an SVG has no button element
    <g
      role="button"
      tabIndex={0}
      className={classes.candidate}
      data-located={one.located}
      aria-label={`Perhaps a shift from ${one.label}. Open.`}
      onClick={() => onOpen(one, x)}
      onKeyDown={(event) => {
        if (event.key === 'Enter' || event.key === ' ') {
          event.preventDefault()
          event.stopPropagation()
          onOpen(one, x)
        }
      }}
    >
      <title>{`Perhaps a shift from ${one.label}`}</title>
      {one.located && (
        <line x1={from - half} x2={to + half} y1={geometry.lane[0] - 1} y2={geometry.lane[0] - 1} />
      )}
      <circle cx={x} cy={y} r={one.located ? 7.5 : 4} />
      {one.located && (
        <text x={x} y={y} dy="0.35em" textAnchor="middle">
          ?
        </text>
      )}
      <circle cx={x} cy={y} r={12} className={classes.reach} />
    </g>
  )
}
