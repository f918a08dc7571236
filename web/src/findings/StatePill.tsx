import classes from './Findings.module.css'
import { type Finding, STATE_NAMES } from './findings.ts'

/** Where a finding stands: its state in words, with a shape of its own. */
export function StatePill({ finding }: { finding: Finding }) {
  return (
    <span className={classes.pill} data-state={finding.state}>
      {STATE_NAMES[finding.state]}
      {finding.presence === 'gone' && ', off the chart'}
    </span>
  )
}
