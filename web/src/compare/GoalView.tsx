import { Link } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { OnePlot } from '../chart/small/OnePlot.tsx'
import type { Span } from '../chart/small/place.ts'
import { useSize } from '../shared/looking/useSize.ts'
import { levelText } from '../shared/numbers.ts'
import classes from './Compare.module.css'
import { domainOf } from './compare.ts'
import { StrongRow } from './StrongRow.tsx'
import { useStrong } from './useStrong.ts'

interface Props {
  data: Schemas['AgainstGoal']
  fixed?: Span | null
  /** Whether it stands alone on its screen, with the table beside. */
  wide?: boolean
  /** The workspace whose charts can be gone to; "" where it is shown by a link. */
  workspace: string
}

/** Several KPIs on one plot for each unit, with the goal that holds for them. */
export function GoalView({ data, fixed = null, wide = true, workspace }: Props) {
  const domain = domainOf(data.dates)
  return (
    <div className={classes.stacked}>
      {data.gone.length > 0 && (
        <p className={classes.warn}>Gone since: {data.gone.join(', ')}. The others are shown.</p>
      )}
      {data.uncomputed.length > 0 && (
        <p className={classes.warn}>
          Cannot be computed: {data.uncomputed.join(', ')}. The others are shown.
        </p>
      )}
      {data.panels.map((panel, n) => (
        <Unit
          key={panel.unit}
          {...{ panel, domain, wide, workspace }}
          fixed={n === 0 ? fixed : null}
        />
      ))}
    </div>
  )
}

function Unit({
  panel,
  domain,
  fixed,
  wide,
  workspace,
}: {
  panel: Schemas['GoalPanel']
  domain: Span
  fixed: Span | null
  wide: boolean
  workspace: string
}) {
  const { ref, width } = useSize()
  const strong = useStrong(panel.lines.map(({ kpi }) => kpi))
  const level = (value: number | null) => (value === null ? '–' : levelText(value, panel.numbers))
  return (
    <div className={wide ? classes.beside : classes.stacked}>
      <div className={`card ${classes.plot}`}>
        <div ref={ref}>
          {width > 0 && (
            <OnePlot
              label={`KPIs in ${panel.unit || 'no unit'}`}
              lines={panel.lines.map(({ kpi, name, chart }) => ({ key: kpi, name, chart }))}
              strong={strong.strong}
              onStrong={strong.bring}
              goal={panel.goal}
              goalText={panel.goal_text}
              {...{ domain, fixed, width }}
              height={wide ? 340 : 260}
            />
          )}
        </div>
      </div>
      <div className={`card ${classes.plot}`}>
        <div className={classes.scroll}>
          <table className={classes.table} onKeyDown={strong.onKey}>
            <caption className="unseen">KPIs in {panel.unit || 'no unit'}</caption>
            <thead>
              <tr>
                <th scope="col">KPI</th>
                <th scope="col">Average</th>
                <th scope="col">Meets</th>
                <th scope="col">Judged by</th>
                <th scope="col">Values</th>
              </tr>
            </thead>
            <tbody>
              {panel.lines.map((line) => (
                <StrongRow key={line.kpi} name={line.kpi} label={line.name} strong={strong}>
                  <td>{level(line.average)}</td>
                  <td>{line.share_met === null ? '–' : `${Math.round(line.share_met * 100)}%`}</td>
                  <td>{line.judged_by || 'nothing'}</td>
                  <td>
                    {workspace ? (
                      <Link to={`/${workspace}/charts/${line.kpi}`}>{line.n}</Link>
                    ) : (
                      line.n
                    )}
                  </td>
                </StrongRow>
              ))}
            </tbody>
          </table>
        </div>
      </div>
    </div>
  )
}
