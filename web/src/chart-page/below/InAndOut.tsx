import { Button } from '@mantine/core'
import { Notice } from '../../shared/Notice.tsx'
import classes from '../ChartPage.module.css'
import { useStates } from '../data/context.ts'
import { useChartSession } from '../session/ChartSession.tsx'
import { SummaryTable } from './SummaryTable.tsx'

/** The KPI in a state of the world, beside it out of the state. */
export function InAndOut() {
  const { path, look, state, dispatch } = useChartSession()
  const states = useStates(path, look.view, state.world)
  if (state.world === null) return null
  const compared = states.data?.compared
  return (
    <section className={`card ${classes.selection}`} aria-label="State of the world">
      <header>
        <h2>In and out of {state.world}</h2>
        <Button
          size="compact-sm"
          variant="light"
          onClick={() => dispatch({ type: 'compare state', title: null })}
        >
          Close
        </Button>
      </header>
      {states.error && <Notice error={states.error} />}
      {compared && (
        <>
          <p className="quiet">{compared.joined}</p>
          <SummaryTable {...compared.summaries} />
        </>
      )}
    </section>
  )
}
