import { useId } from 'react'

/** A name for the hatching of one drawing: an export that stands alone has it as well. */
export const useHatch = () => `hatch${useId().replace(/[^a-zA-Z0-9]/g, '')}`

/** Slanted lines to fill an area with, told from plain ones without color. */
export function Hatch({ id, color, opacity }: { id: string; color: string; opacity: number }) {
  return (
    <pattern
      id={id}
      width={5}
      height={5}
      patternUnits="userSpaceOnUse"
      patternTransform="rotate(45)"
    >
      <path d="M0 0V5" stroke={color} strokeOpacity={opacity} strokeWidth={3} />
    </pattern>
  )
}
