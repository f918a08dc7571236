import classes from '../../Chart.module.css'
import { onPress } from '../../gestures/onPress.ts'
import type { Geometry } from '../../model/geometry.ts'
import { COLORS, lineName } from '../../model/overlays.ts'
import type { Chart } from '../../model/types.ts'
import { fitted, textWidth } from '../../text/measure.ts'

const HEIGHT = 18

/** What lies outside of the axis: lines, each of which can be brought into view, and values. */
export function Outside({
  chart,
  geometry,
  onBring,
}: {
  chart: Chart
  geometry: Geometry
  onBring: (key: string) => void
}) {
  const { left, values, outside } = geometry
  const { above, below } = chart.axis
  const rows = { above: 0, below: 0 }
  return (
    <g data-part="outside">
      {outside.map(({ line, above: isAbove }) => {
        const row = rows[isAbove ? 'above' : 'below']++
        const y = isAbove ? values[0] + row * HEIGHT : values[1] - (row + 1) * HEIGHT
        const text = fitted(`${isAbove ? '↑' : '↓'} ${lineName(line)} ${line.text}`, 260)
        return (
          // biome-ignore lint/a11y/useSemanticElements: an SVG has no button element
          <g
            key={line.key}
            role="button"
            tabIndex={0}
            className={classes.tag}
            aria-label={`${lineName(line)} ${line.amount_text} is ${isAbove ? 'above' : 'below'} what is shown: bring it into view`}
            onClick={() => onBring(line.key)}
            onKeyDown={onPress(() => onBring(line.key))}
          >
            <rect
              x={left + 4}
              y={y}
              width={textWidth(text) + 14}
              height={HEIGHT - 2}
              rx={4}
              fill="var(--card)"
              stroke={COLORS[line.color]}
            />
            <text x={left + 11} y={y + (HEIGHT - 2) / 2} dy="0.34em" fill={COLORS[line.color]}>
              {text}
            </text>
          </g>
        )
      })}
      {above > 0 && <Count geometry={geometry} text={`↑ ${above} above`} y={values[0] - 9} />}
      {below > 0 && <Count geometry={geometry} text={`↓ ${below} below`} y={values[1] - 5} />}
    </g>
  )
}

/** How many values the fixed axis leaves out on one side. */
function Count({ geometry, text, y }: { geometry: Geometry; text: string; y: number }) {
  return (
    <text
      x={geometry.right - 6}
      y={y}
      textAnchor="end"
      fontWeight={600}
      fill="var(--mark-outside)"
      className={classes.panelCount}
    >
      {text}
    </text>
  )
}
