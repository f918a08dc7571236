import { CloseButton, Loader } from '@mantine/core'
import { Link } from 'react-router'
import { ChartView } from '../chart/ChartView.tsx'
import { ALL_SHOWN } from '../chart/model/types.ts'
import { useChart } from '../chart-page/data/chart.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Overview.module.css'

/** A chart beside the list, to look at without leaving it. */
export function Peek({
  workspace,
  kpi,
  onClose,
}: {
  workspace: string
  kpi: string
  onClose: () => void
}) {
  const chart = useChart({ workspace, kpi }, { width: 500 })
  return (
    <aside className={`card ${classes.peek}`} aria-label="A look at the chart">
      <CloseButton style={{ float: 'right' }} aria-label="Close" onClick={onClose} />
      {chart.isPending && <Loader role="status" aria-label="Loading" />}
      {chart.error && <Notice error={chart.error} retry={chart.refetch} />}
      {chart.data && (
        <>
          <h2>{chart.data.kpi.name}</h2>
          <p>
            <b>{chart.data.sentence.headline}</b> {chart.data.sentence.detail}
          </p>
          <ChartView chart={chart.data} shown={ALL_SHOWN} height={400} />
          <p>
            <Link to={`/${workspace}/charts/${kpi}`}>Open the chart</Link>
          </p>
        </>
      )}
    </aside>
  )
}
