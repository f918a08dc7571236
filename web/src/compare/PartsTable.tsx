import { levelText } from '../shared/numbers.ts'
import classes from './Compare.module.css'
import type { Parts } from './compare.ts'
import { StrongRow } from './StrongRow.tsx'
import type { useStrong } from './useStrong.ts'

const SIDES: Record<string, string> = { '1': 'higher', '-1': 'lower', '0': 'no different' }

/** The numbers of each part; hovering a row, or the keys, bring it out beside. */
export function PartsTable({
  data,
  strong,
}: {
  data: Parts
  strong: ReturnType<typeof useStrong>
}) {
  const { numbers } = data
  const level = (value: number | null) => (value === null ? '–' : levelText(value, numbers))
  const percent = (share: number | null) =>
    share === null ? '–' : `${(share * 100).toFixed(share > 0 && share < 0.1 ? 1 : 0)}%`
  const judged = data.parts.some(({ share_met }) => share_met !== null)
  const most = Math.max(...data.parts.map(({ share }) => share ?? 0), 0.01)
  return (
    <div className={classes.scroll}>
      <table className={classes.table} onKeyDown={strong.onKey}>
        <caption className="unseen">{data.name} by its parts</caption>
        <thead>
          <tr>
            <th scope="col">Part</th>
            <th scope="col">Average</th>
            <th scope="col">Limits</th>
            <th scope="col">Average mR</th>
            {data.adds_up && <th scope="col">Share of total</th>}
            {judged && <th scope="col">Meets target</th>}
            <th scope="col">Findings</th>
            <th scope="col">Beside all</th>
          </tr>
        </thead>
        <tbody>
          {data.parts.map((part) => (
            <StrongRow
              key={part.name}
              name={part.name}
              title={`${part.name}, ${part.n} values`}
              strong={strong}
            >
              <td>{level(part.average)}</td>
              <td>{part.upper === null ? '–' : `${level(part.lower)}–${level(part.upper)}`}</td>
              <td>{level(part.mean_range)}</td>
              {data.adds_up && (
                <td>
                  <span
                    className={classes.bar}
                    style={{ width: `${(44 * (part.share ?? 0)) / most}px` }}
                  />
                  {percent(part.share)}
                </td>
              )}
              {judged && <td>{percent(part.share_met)}</td>}
              <td title={part.newest && `The newest from ${part.newest}`}>{part.findings}</td>
              <td>{part.side === null ? 'too few' : SIDES[String(part.side)]}</td>
            </StrongRow>
          ))}
        </tbody>
      </table>
    </div>
  )
}
