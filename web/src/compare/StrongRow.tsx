import type { ReactNode } from 'react'
import classes from './Compare.module.css'
import type { useStrong } from './useStrong.ts'

interface Props {
  /** What it is known by, and what it is called where that is something else. */
  name: string
  label?: string
  title?: string
  strong: ReturnType<typeof useStrong>
  /** Its cells. */
  children: ReactNode
}

/** A row of a table that brings out what it is of: by hover, click, or the keys. */
export function StrongRow({ name, label = name, title = label, strong, children }: Props) {
  const held = name === strong.strong
  return (
    <tr
      data-strong={held}
      onPointerEnter={() => strong.hover(name)}
      onPointerLeave={() => strong.hover(null)}
      onClick={() => strong.hold(name)}
    >
      <td>
        <button
          type="button"
          className={classes.namebutton}
          data-name={name}
          aria-pressed={held}
          title={title}
        >
          {label}
        </button>
      </td>
      {children}
    </tr>
  )
}
