// Lines through points as paths of an SVG; where there is no point, the line is broken. Pure.

type At = (index: number) => readonly [number, number] | null

const unbroken = () => false

/** The stretches of indices, of `count`, that have a place; a break begins another. */
function stretches(
  count: number,
  pointAt: At,
  breaksAt: (index: number) => boolean = unbroken,
): (readonly [number, number])[][] {
  const stretches: (readonly [number, number])[][] = []
  let stretch: (readonly [number, number])[] | null = null
  for (let n = 0; n < count; n++) {
    const at = pointAt(n)
    if (!at || breaksAt(n)) stretch = null
    if (!at) continue
    if (stretch) stretch.push(at)
    else {
      stretch = [at]
      stretches.push(stretch)
    }
  }
  return stretches
}

const short = (value: number) => Math.round(value * 1000) / 1000
const point = ([x, y]: readonly [number, number]) => `${short(x)},${short(y)}`

/** A line from point to point, broken before some; a point alone is a dot of its stroke. */
export function linePath(
  count: number,
  pointAt: At,
  breaksAt?: (index: number) => boolean,
): string {
  return stretches(count, pointAt, breaksAt)
    .map((points) => `M${points.map(point).join('L')}${points.length === 1 ? 'Z' : ''}`)
    .join('')
}

/** A line that keeps its level up to the next point. */
export function stepPath(count: number, pointAt: At): string {
  return stretches(count, pointAt)
    .map(([first, ...rest]) =>
      first ? `M${point(first)}${rest.map(([x, y]) => `H${short(x)}V${short(y)}`).join('')}` : '',
    )
    .join('')
}

/** The area between two lines. */
export function areaPath(
  count: number,
  pointAt: (index: number) => { x: number; low: number; high: number } | null,
): string {
  const on = (side: 'low' | 'high') => (n: number) => {
    const at = pointAt(n)
    return at && ([at.x, at[side]] as const)
  }
  const under = stretches(count, on('low'))
  return stretches(count, on('high'))
    .map((over, n) => {
      const back = [...(under[n] ?? [])].reverse()
      return `M${[...over, ...back].map(point).join('L')}Z`
    })
    .join('')
}
