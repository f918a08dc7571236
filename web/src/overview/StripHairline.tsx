import { useHairlineTime } from '../chart/hairline.tsx'
import { linear } from '../chart/model/scale.ts'
import { dayOf, dayTime, type Span } from '../chart/small/place.ts'
import { counted, longPeriod } from '../shared/writing.ts'
import classes from './Overview.module.css'
import type { Overview } from './overview.ts'

export const DAY = 86_400_000

/** Where the strips are in the list, in pixels. */
export interface StripBox {
  left: number
  width: number
}

/** The hairline over all strips. */
export function StripLine({
  domain,
  strip,
  height,
}: {
  domain: Span
  strip: StripBox
  height: number
}) {
  const time = useHairlineTime()
  if (time === null) return null
  const px = strip.left + linear(domain, [5, strip.width - 5])(time)
  return (
    <svg className={classes.overlay} width={px + 1} height={height} aria-hidden="true">
      <path d={`M${px},0V${height}`} stroke="var(--ink)" strokeDasharray="2 3" />
    </svg>
  )
}

/** The date of the hairline, and how many findings are within a week of it. */
export function StripFlag({
  domain,
  strip,
  nearby,
}: {
  domain: Span
  strip: StripBox
  nearby: Overview['nearby']
}) {
  const time = useHairlineTime()
  if (time === null) return null
  const px = strip.left + linear(domain, [5, strip.width - 5])(time)
  const day = dayOf(time)
  const count = nearby?.counts[Math.floor((time - dayTime(nearby.first)) / DAY)] ?? 0
  const text =
    count > 1
      ? `${counted(count, 'finding')} within a week of ${longPeriod(day, 'day')}`
      : longPeriod(day, 'day')
  return (
    <div className={classes.flag} role="status">
      <span style={{ left: Math.max(110, Math.min(px, strip.left + strip.width - 110)) }}>
        {text}
      </span>
    </div>
  )
}
