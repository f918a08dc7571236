import { Alert, Checkbox } from '@mantine/core'
import { counted } from '../chart/format.ts'
import classes from './NewKpiPage.module.css'
import type { Choices, Reading } from './table.ts'

interface Props {
  reading: Reading
  choices: Choices
  onChange: (choices: Choices) => void
}

const MOST = 12

/** The rows that cannot be read: where, what was found, what to do. */
export function Problems({ reading, choices, onChange }: Props) {
  if (reading.problem_count === 0) return null
  const shown = reading.problems.slice(0, MOST)
  return (
    <Alert
      mt="md"
      color="signal"
      variant="outline"
      role="alert"
      title={`${counted(reading.problem_count, 'row')} cannot be read`}
      styles={{ root: { background: 'var(--card)' }, title: { color: 'var(--ink)' } }}
    >
      <table className={classes.problems}>
        <thead>
          <tr>
            {['Row', 'Column', 'Found', 'What is wrong and what to do'].map((name) => (
              <th key={name} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map((issue) => (
            <tr key={`${issue.row} ${issue.column}`}>
              <td>{issue.row}</td>
              <td>{issue.column}</td>
              <td>{issue.found && `“${issue.found.slice(0, 60)}”`}</td>
              <td>
                {issue.detail} {issue.remedy}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {reading.problem_count > shown.length && (
        <p>and {counted(reading.problem_count - shown.length, 'row')} more</p>
      )}
      <Checkbox
        mt="sm"
        label={`Leave ${reading.problem_count === 1 ? 'this row' : 'these rows'} out and save the rest`}
        checked={choices.leave_out ?? false}
        onChange={(event) => onChange({ ...choices, leave_out: event.currentTarget.checked })}
      />
    </Alert>
  )
}
