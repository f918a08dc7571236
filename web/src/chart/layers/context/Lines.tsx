import type { Geometry } from '../../model/geometry.ts'
import { COLORS, DASHES, drawnBands, drawnLines, heightAt, WEIGHTS } from '../../model/overlays.ts'
import { areaPath, linePath, stepPath } from '../../model/path.ts'
import type { Chart, Line } from '../../model/types.ts'
import { Hatch, useHatch } from './Hatch.tsx'

interface Props {
  chart: Chart
  geometry: Geometry
  /** Whether it is those in front of the values that are drawn, or those behind. */
  inFront: boolean
}

/** The lines and bands that people have put on a chart; bands lie behind everything. */
export function Lines({ chart, geometry, inFront }: Props) {
  const lines = drawnLines(chart).filter((line) => line.in_front === inFront)
  return (
    <g data-part={inFront ? 'lines in front' : 'lines'}>
      {!inFront &&
        drawnBands(chart).map(({ band, sides }) => (
          <path
            key={band.key}
            data-band={band.key}
            d={between(sides, geometry)}
            fill={COLORS[band.color]}
            fillOpacity={0.13}
          >
            <title>{`${band.name || 'Band'}: ${band.says}`}</title>
          </path>
        ))}
      {chart.kpi.drawn_as === 'points' &&
        lines
          .filter((line) => line.shaded)
          .map((line) => <Shading key={line.key} {...{ line, chart, geometry }} />)}
      {lines.map((line) => (
        <Course key={line.key} line={line} geometry={geometry} />
      ))}
    </g>
  )
}

function Course({ line, geometry }: { line: Line; geometry: Geometry }) {
  const { times, x, y, spacing, left, right } = geometry
  const count = times.length
  const heights = (course: Line['course']) => (n: number) => {
    const height = course?.[n] ?? null
    const at = x(times[n] ?? 0) - (line.made === 'coarser_mean' ? spacing / 2 : 0)
    return height === null ? null : ([at, y(height)] as const)
  }
  const stroke = {
    stroke: COLORS[line.color],
    strokeWidth: WEIGHTS[line.weight],
    strokeDasharray: DASHES[line.dash],
    strokeLinecap: line.dash === 'dotted' ? ('round' as const) : undefined,
  }
  const path = !line.course
    ? `M${left},${y(line.level ?? 0)}H${right}`
    : line.made === 'coarser_mean'
      ? `${stepPath(count, heights(line.course))}${line.course.at(-1) === null ? '' : `H${right}`}`
      : linePath(count, heights(line.course))
  return (
    <g data-course={line.key}>
      {line.low && line.high && (
        <path
          d={areaPath(count, (n) => {
            const [low, high] = [line.low?.[n] ?? null, line.high?.[n] ?? null]
            if (low === null || high === null) return null
            return { x: x(times[n] ?? 0), low: y(low), high: y(high) }
          })}
          fill={COLORS[line.color]}
          fillOpacity={0.13}
        />
      )}
      <path d={path} fill="none" strokeLinejoin="round" {...stroke} />
    </g>
  )
}

/** The space between the values and a line: plain above it, hatched below. */
function Shading({ line, chart, geometry }: { line: Line; chart: Chart; geometry: Geometry }) {
  const { y } = geometry
  const hatch = useHatch()
  const color = COLORS[line.color]
  const corners = cornersOf(line, chart, geometry)
  const area = (side: 1 | -1) =>
    areaPath(corners.length, (n) => {
      const corner = corners[n]
      if (!corner) return null
      const { x, value, height } = corner
      const edge = side === 1 ? Math.max(value, height) : Math.min(value, height)
      return { x, low: y(height), high: y(edge) }
    })
  return (
    <g data-part="shading">
      <Hatch id={hatch} color={color} opacity={0.3} />
      <path d={area(1)} fill={color} fillOpacity={0.2} />
      <path d={area(-1)} fill={`url(#${hatch})`} />
    </g>
  )
}

interface Corner {
  x: number
  value: number
  height: number
}

/** Where the values and a line turn, and where they cross; null where the line has a gap. */
function cornersOf(line: Line, chart: Chart, { times, x }: Geometry): (Corner | null)[] {
  const corners: (Corner | null)[] = []
  let before: Corner | null = null
  for (const [n, value] of chart.points.value.entries()) {
    const height = heightAt(line, n)
    const corner: Corner | null = height === null ? null : { x: x(times[n] ?? 0), value, height }
    const [was, is] = [before && before.value - before.height, corner && value - corner.height]
    if (before && corner && was && is && was * is < 0) {
      const share = was / (was - is)
      const level = before.height + (corner.height - before.height) * share
      corners.push({ x: before.x + (corner.x - before.x) * share, value: level, height: level })
    }
    corners.push(corner)
    before = corner
  }
  return corners
}

/** The area between two lines, whichever of them is the upper one. */
function between([one, other]: [Line, Line], geometry: Geometry): string {
  const { times, x, y, left, right } = geometry
  if (!one.course && !other.course) {
    const [a, b] = [y(one.level ?? 0), y(other.level ?? 0)]
    return `M${left},${a}H${right}V${b}H${left}Z`
  }
  return areaPath(times.length, (n) => {
    const [a, b] = [heightAt(one, n), heightAt(other, n)]
    if (a === null || b === null) return null
    return { x: x(times[n] ?? 0), low: y(Math.min(a, b)), high: y(Math.max(a, b)) }
  })
}
