import type { ReactNode } from 'react'

interface Props {
  label: string
  width: number
  height: number
  children: ReactNode
}

/** What is drawn for paper, within its width and height. */
export function PaperSheet({ label, width, height, children }: Props) {
  return (
    <svg
      role="img"
      aria-label={label}
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
    >
      {children}
    </svg>
  )
}
