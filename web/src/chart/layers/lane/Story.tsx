import { useRef, useState } from 'react'
import type { Schemas } from '../../../api/client.ts'
import { counted, days } from '../../../shared/writing.ts'
import classes from '../../Chart.module.css'
import { onPress } from '../../gestures/onPress.ts'
import { useDragAcross } from '../../gestures/useDragAcross.ts'
import type { Geometry } from '../../model/geometry.ts'
import type { Chart } from '../../model/types.ts'
import { fitted, textWidth } from '../../text/measure.ts'

export type Pin = Schemas['Pin']
export type Candidate = Chart['candidates'][number]

const DAY = 86_400_000
/** A name that is cut shorter than this says nothing. */
const FEW_LETTERS = 7
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
  const xs = pins.map((pin) => dateX(geometry, pin.first))
  const [pulled, setPulled] = useState<{ pin: Pin; by: number } | null>(null)
  const dragged = useRef(false)
  const bind = useDragAcross<Pin>(
    {
      onHold: (pin) => {
        dragged.current = pin.count === 1
        return dragged.current
      },
      onMove: (pin, _, by) => setPulled({ pin, by }),
      onDrop: (pin, by) => {
        letGo()
        const days = daysOf(geometry, by)
        if (days) onMovePin(pin, days)
      },
      onCancel: () => letGo(),
    },
    PULL,
  )

  function letGo() {
    setPulled(null)
    // The click that ends the drag comes after it.
    setTimeout(() => {
      dragged.current = false
    })
  }

  return (
    <g data-part="story">
      {spacedOut(candidates, geometry).map(({ candidate, near }) => (
        <CandidateMark
          key={candidate.period}
          {...{ candidate, near, geometry }}
          onOpen={onOpenCandidate}
        />
      ))}
      {pins.map((pin, n) => (
        <PinMark
          key={`${pin.first} ${pin.events[0]?.id}`}
          pin={pin}
          x={xs[n] ?? 0}
          room={(xs[n + 1] ?? geometry.right + 20) - (xs[n] ?? 0)}
          geometry={geometry}
          pulled={pulled?.pin === pin ? pulled.by : 0}
          drag={bind(pin)}
          onOpen={(opened, x) => {
            // What ends a drag is no click.
            if (!dragged.current) onOpenPin(opened, x)
          }}
        />
      ))}
    </g>
  )
}

/** How many days so many pixels are. */
function daysOf(geometry: Geometry, by: number): number {
  return Math.round((geometry.x.invert(by) - geometry.x.invert(0)) / DAY)
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
  pulled,
  drag,
  onOpen,
}: {
  pin: Pin
  x: number
  room: number
  geometry: Geometry
  /** How far it is pulled, in pixels. */
  pulled: number
  drag: object
  onOpen: Props['onOpenPin']
}) {
  const only = pin.count === 1 ? pin.events[0] : undefined
  const y = geometry.story[0] + 9
  const end = dateX(geometry, pin.last)
  const at = x + pulled
  const name = only ? only.title : counted(pin.count, 'event')
  const part = fitted(name, room - 16)
  const shown =
    part === name || (only && part.length > FEW_LETTERS) ? part : only ? '' : String(pin.count)
  const width = textWidth(shown)
  const fits = shown !== '' && width < room - 12
  return (
    // biome-ignore lint/a11y/useSemanticElements: an SVG has no button element
    <g
      role="button"
      tabIndex={0}
      className={classes.pin}
      data-kind={only?.kind ?? 'several'}
      aria-label={`${name}, ${days(pin.first, pin.last)}. Open.`}
      {...drag}
      onClick={() => onOpen(pin, x)}
      onKeyDown={onPress(() => onOpen(pin, x))}
    >
      <title>
        {pulled
          ? `${daysOf(geometry, pulled)} days`
          : pin.events.map((event) => event.title).join('\n')}
      </title>
      <rect
        x={at - 12}
        y={y - 12}
        width={Math.max(24, fits ? width + 20 : 24)}
        height={24}
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

/** Candidates nearer than this to the one before are drawn small, in pixels. */
const NEAR = 17

/** Tells of each candidate whether it is too near to the one before for a mark of its own size. */
function spacedOut(candidates: Candidate[], geometry: Geometry) {
  let last = -Infinity
  return candidates.map((candidate) => {
    const x = geometry.x(geometry.times[geometry.indexOf.get(candidate.position) ?? -1] ?? 0)
    const near = x - last < NEAR
    if (!near) last = x
    return { candidate, near }
  })
}

/** A place where the process may have shifted, with the range where it likely began. */
function CandidateMark({
  candidate,
  near,
  geometry,
  onOpen,
}: {
  candidate: Candidate
  near: boolean
  geometry: Geometry
  onOpen: Props['onOpenCandidate']
}) {
  const index = geometry.indexOf.get(candidate.position)
  if (index === undefined) return null
  const half = geometry.spacing / 2
  const xAt = (position: number) => {
    const at = geometry.indexOf.get(position)
    return at === undefined ? null : geometry.x(geometry.times[at] ?? 0)
  }
  const x = geometry.x(geometry.times[index] ?? 0) - half
  const [from, to] = [xAt(candidate.first) ?? x, xAt(candidate.last) ?? x]
  const y = geometry.lane[0] - 6
  return (
    // biome-ignore lint/a11y/useSemanticElements: an SVG has no button element
    <g
      role="button"
      tabIndex={0}
      className={classes.candidate}
      data-evidence={candidate.evidence}
      aria-label={`Perhaps a shift from ${candidate.label}. Open.`}
      onClick={() => onOpen(candidate, x)}
      onKeyDown={onPress(() => onOpen(candidate, x))}
    >
      <title>{`Perhaps a shift from ${candidate.label}`}</title>
      {candidate.evidence && (
        <line x1={from - half} x2={to + half} y1={geometry.lane[0] - 1} y2={geometry.lane[0] - 1} />
      )}
      <circle cx={x} cy={y} r={candidate.evidence && !near ? 7.5 : 4} />
      {candidate.evidence && !near && (
        <text x={x} y={y} dy="0.35em" textAnchor="middle">
          ?
        </text>
      )}
      <circle cx={x} cy={y} r={12} className={classes.reach} />
    </g>
  )
}
