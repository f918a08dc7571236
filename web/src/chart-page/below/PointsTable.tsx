import { lazy, Suspense, useState } from 'react'
import type { Chart } from '../../chart/model/types.ts'
import classes from '../ChartPage.module.css'

const PointRows = lazy(() => import('./PointRows.tsx'))

/** The points as a table, newest first: the chart for those who do not see it. */
export function PointsTable({ chart }: { chart: Chart }) {
  const [open, setOpen] = useState(false)
  return (
    <details className={classes.table} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>Points as a table</summary>
      {open && (
        <Suspense>
          <PointRows chart={chart} />
        </Suspense>
      )}
    </details>
  )
}
