import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { shortPeriod } from '../shared/writing.ts'
import type { Panel } from './face.ts'
import classes from './Panels.module.css'

interface Props {
  title: string
  /** Where it came from; null where there is nowhere to go. */
  to?: string | null
  panel?: Panel | null
  detail?: string
  children: ReactNode
}

/** The title of a panel, which leads to where it came from, and what is below it. */
export function Framed({ title, to = null, panel = null, detail = '', children }: Props) {
  return (
    <>
      <header>
        <h2>
          {to ? (
            <Link className={classes.lead} to={to}>
              {title}
            </Link>
          ) : (
            title
          )}
        </h2>
        {panel?.dates && <span className={classes.own}>{ownText(panel.dates)}</span>}
      </header>
      {detail && <p className={classes.detail}>{detail}</p>}
      {children}
    </>
  )
}

/** What fills the rest of a panel, and can be scrolled where there is not room for all of it. */
export function Filled({
  className = '',
  children,
}: {
  className?: string | undefined
  children: ReactNode
}) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what is cut off is reached by the keys as well
    <div className={`${classes.fill} ${classes.scrolls} ${className}`} tabIndex={0}>
      {children}
    </div>
  )
}

function ownText({ first, last, weeks }: NonNullable<Panel['dates']>): string {
  if (first && last) return `own dates: ${shortPeriod(first, 'day')} to ${shortPeriod(last, 'day')}`
  return weeks ? `own dates: last ${weeks} weeks` : 'own dates: all'
}
