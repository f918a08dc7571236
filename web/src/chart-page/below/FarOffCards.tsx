import { Link } from 'react-router'
import type { Chart } from '../../chart/model/types.ts'
import classes from '../ChartPage.module.css'

export interface FarOffActs {
  values: Chart['far_off']
  /** Where values are typed; null where they are not written by hand. */
  mend: ((position: number) => string) | null
  onAside: (position: number) => void
  onRight: (period: string) => void
}

/** Asks about each value far off the others: a slip, something extraordinary, or right. */
export function FarOffCards({ values, mend, onAside, onRight }: FarOffActs) {
  return values.map(({ position, period, label, value }) => (
    <article key={period} className={`card ${classes.finding}`}>
      <h3>
        Is {value} of {label} right?
      </h3>
      <p>It is far off the others, and moves the average and the limits.</p>
      <footer>
        {mend && (
          <Link className={classes.show} to={mend(position)}>
            Mend it
          </Link>
        )}
        <button type="button" className={classes.show} onClick={() => onAside(position)}>
          Set it aside
        </button>
        <button type="button" className={classes.show} onClick={() => onRight(period)}>
          It is right
        </button>
      </footer>
    </article>
  ))
}
