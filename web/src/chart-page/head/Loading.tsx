import { Skeleton } from '@mantine/core'
import classes from '../ChartPage.module.css'

/** What stands in place of a chart until it has come. */
export function Loading({ name }: { name: string | undefined }) {
  return (
    <div role="status" aria-busy="true" aria-label="Loading the chart">
      <header className={classes.head}>
        <h1>{name ?? 'Loading…'}</h1>
      </header>
      <Skeleton height={18} mt={14} w="60%" />
      <Skeleton height={14} mt={8} w="45%" />
      <Skeleton height={420} mt={24} />
    </div>
  )
}
