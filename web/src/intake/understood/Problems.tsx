import { Alert, Button, Group, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { Issue } from '../../api/client.ts'
import { counted } from '../../shared/writing.ts'
import classes from '../Intake.module.css'
import type { Mapping, Reading } from './table.ts'

interface Props {
  reading: Reading
  mapping: Mapping
  onChange: (mapping: Mapping) => void
}

const MOST = 12

/** The rows that cannot be read: where, what was found, what to do; put right in place or left out. */
export function Problems({ reading, mapping, onChange }: Props) {
  const out = mapping.leave_out ?? false
  if (reading.problem_count === 0) return null
  const shown = reading.problems.slice(0, MOST)
  const repeats = reading.problems.some((issue) => issue.detail.includes('has a value in row'))
  return (
    <Alert
      mt="md"
      color="signal"
      variant="outline"
      role="alert"
      title={`${counted(reading.problem_count, 'row')} cannot be read${out ? ' and will be left out' : ''}`}
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
            <tr key={`${issue.row} ${issue.column} ${issue.detail}`}>
              <td>{issue.row}</td>
              <td>{issue.column}</td>
              <td>
                {issue.field ? (
                  <Fix
                    issue={issue}
                    onFix={(text) =>
                      onChange({ ...mapping, fixes: { ...mapping.fixes, [issue.field]: text } })
                    }
                  />
                ) : (
                  issue.found && `“${issue.found.slice(0, 60)}”`
                )}
              </td>
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
      <Group mt="sm" gap="xs">
        <Button
          size="xs"
          variant="default"
          onClick={() => onChange({ ...mapping, leave_out: !out })}
        >
          {out
            ? 'Take these rows into account again'
            : `Leave ${reading.problem_count === 1 ? 'this row' : 'these rows'} out`}
        </Button>
        {repeats && (
          <Button
            size="xs"
            variant="default"
            onClick={() => onChange({ ...mapping, combine: true })}
          >
            Make one value of the rows that share a period
          </Button>
        )}
      </Group>
    </Alert>
  )
}

/** A cell written anew; the table itself stays as it is. */
function Fix({ issue, onFix }: { issue: Issue; onFix: (text: string) => void }) {
  const [text, setText] = useState(issue.found)
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (text !== issue.found) onFix(text)
      }}
    >
      <TextInput
        size="xs"
        w={130}
        aria-label={`Row ${issue.row}, ${issue.column}: write it anew`}
        value={text}
        onChange={(event) => setText(event.currentTarget.value)}
        onBlur={() => text !== issue.found && onFix(text)}
      />
    </form>
  )
}
