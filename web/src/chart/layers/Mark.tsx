import { MARK_COLOR, type MarkKind } from '../model/markKinds.ts'

interface Props {
  kind: MarkKind
  x: number
  y: number
  size?: number
  /** Leaves the color to what it stands in. */
  plain?: boolean
}

/** The shape of a signal's point: diamond, rounded square, triangle or hexagon. */
export function Mark({ kind, x, y, size = 6, plain = false }: Props) {
  const fill = plain ? undefined : MARK_COLOR[kind]
  if (kind === 'run') {
    const half = size * 0.82
    return <rect x={x - half} y={y - half} width={2 * half} height={2 * half} rx={2} fill={fill} />
  }
  return <path d={PATHS[kind](x, y, size)} fill={fill} strokeLinejoin="round" />
}

/** The same beside a text that says what it means. */
export function MarkIcon({ kind, small = false }: { kind: MarkKind; small?: boolean }) {
  const side = small ? 14 : 18
  return (
    <svg width={side} height={side} aria-hidden="true" focusable="false">
      <Mark kind={kind} x={side / 2} y={side / 2} size={small ? 4.4 : 6} />
    </svg>
  )
}

const PATHS: Record<Exclude<MarkKind, 'run'>, (x: number, y: number, r: number) => string> = {
  outside: (x, y, r) => polygon(x, y, r * 1.25, 4, 0),
  near: (x, y, r) => polygon(x, y, r * 1.25, 3, -Math.PI / 2),
  extended: (x, y, r) => polygon(x, y, r * 1.05, 6, 0),
}

function polygon(x: number, y: number, radius: number, corners: number, turn: number): string {
  const points = Array.from({ length: corners }, (_, n) => {
    const angle = turn + (n * 2 * Math.PI) / corners
    return `${(x + radius * Math.cos(angle)).toFixed(2)},${(y + radius * Math.sin(angle)).toFixed(2)}`
  })
  return `M${points.join('L')}Z`
}

/** A period that is not over: hollow, in dots. */
export function Incomplete({ x, y }: { x: number; y: number }) {
  return (
    <circle
      cx={x}
      cy={y}
      r={5}
      fill="var(--ground)"
      stroke="var(--ink)"
      strokeWidth={1.5}
      strokeDasharray="2 2"
      data-part="incomplete"
    />
  )
}

/** A value that takes no part: hollow, with a slash. */
export function SetAside({ x, y, size = 5 }: { x: number; y: number; size?: number }) {
  const slash = size * 0.95
  return (
    <g fill="var(--ground)" stroke="var(--ink)" strokeWidth={1.5}>
      <circle cx={x} cy={y} r={size} />
      <path d={`M${x - slash},${y + slash}L${x + slash},${y - slash}`} />
    </g>
  )
}
