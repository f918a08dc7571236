import { days } from '../../../shared/writing.ts'
import classes from '../../Chart.module.css'
import { onPress } from '../../gestures/onPress.ts'
import type { Geometry } from '../../model/geometry.ts'

/** Something that was done to move the KPI, from a day on. */
export interface BegunMark {
  id: number
  name: string
  began: string
  /** What has come of it, in words. */
  says: string
}

interface Props {
  geometry: Geometry
  marks: readonly BegunMark[]
  onOpen: (mark: BegunMark) => void
}

/** Thin marks on the lane, at the days on which improvements began. */
export function Begun({ geometry, marks, onOpen }: Props) {
  const [top, bottom] = geometry.lane
  return (
    <g data-part="begun">
      {marks.map((mark) => {
        const x = geometry.x(Date.parse(`${mark.began}T00:00Z`))
        if (x < geometry.left || x > geometry.right) return null
        const open = () => onOpen(mark)
        return (
          // biome-ignore lint/a11y/useSemanticElements: an SVG has no button element
          <g
            key={mark.id}
            role="button"
            tabIndex={0}
            className={classes.bar}
            aria-label={`Improvement ${mark.name}, since ${days(mark.began, mark.began)}. ${mark.says}`}
            onClick={open}
            onKeyDown={onPress(open)}
          >
            <title>{`${mark.name}\n${mark.says}`}</title>
            {/* Over its flag alone: the bar under it and the grip to its left are pressed as well. */}
            <rect x={x - 3} y={top - 18} width={24} height={24} fill="transparent" />
            <path
              d={`M${x},${bottom}V${top - 9}h7l-2.5,2.5l2.5,2.5h-7`}
              fill="var(--card)"
              stroke="var(--ink)"
              strokeWidth={1.2}
            />
          </g>
        )
      })}
    </g>
  )
}
