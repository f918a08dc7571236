import { Menu, Tooltip } from '@mantine/core'
import { IconChevronDown } from '@tabler/icons-react'
import { counted } from '../../shared/writing.ts'
import classes from '../Intake.module.css'
import { kindInWords, ROLES } from './roles.ts'
import type { Mapping, Reading } from './table.ts'

interface Props {
  reading: Reading
  mapping: Mapping
  onChange: (mapping: Mapping) => void
}

/** The table as it was found; what each column is for stands in its head and is changed there. */
export function FoundTable({ reading, mapping, onChange }: Props) {
  const wrong = new Set(reading.problems.map((issue) => `${issue.row} ${issue.column}`))
  const wide = reading.mapping.layout === 'wide' && reading.layouts.length > 1
  return (
    <section
      className={`card ${classes.tableFrame}`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard
      tabIndex={0}
      aria-label="First rows of the table"
    >
      <table className={classes.found}>
        {wide && (
          <caption className="quiet">
            Each column of a period became rows: {counted(reading.row_count, 'row')} of the sheet.
          </caption>
        )}
        <thead>
          <tr>
            <th scope="col" className={classes.line}>
              row
            </th>
            {reading.columns.map((column) => (
              <th key={column.name} scope="col" data-role={column.role}>
                <RoleMenu
                  column={column}
                  onChoose={(role) =>
                    onChange({
                      ...mapping,
                      roles: { ...chosenRoles(reading, mapping, role), [column.name]: role },
                    })
                  }
                />
                <div className={classes.name} title={column.name}>
                  {column.name}
                </div>
                <Kind column={column} />
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {reading.first_rows.map((row, n) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows do not move, and a wide table repeats its lines
            <tr key={n}>
              <th scope="row" className={classes.line}>
                {row.line}
              </th>
              {reading.columns.map((column, at) => (
                <td
                  key={column.name}
                  data-role={column.role}
                  data-kind={column.kind}
                  data-wrong={wrong.has(`${row.line} ${column.name}`) || undefined}
                >
                  {row.cells[at]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

/** What stays chosen: a column that had a role of which there is one gives it up. */
function chosenRoles(reading: Reading, mapping: Mapping, role: string): Mapping['roles'] {
  const kept = { ...mapping.roles }
  if (role === 'value' || role === 'ignore' || role === 'note') return kept
  for (const column of reading.columns) if (column.role === role) kept[column.name] = 'ignore'
  return kept
}

function RoleMenu({
  column,
  onChoose,
}: {
  column: Reading['columns'][number]
  onChoose: (role: (typeof ROLES)[number]['role']) => void
}) {
  const role = ROLES.find((entry) => entry.role === column.role)
  return (
    <Menu position="bottom-start" withinPortal>
      <Menu.Target>
        <button
          type="button"
          className={classes.role}
          data-role={column.role}
          aria-label={`${column.name} is the ${role?.name ?? ''}: change`}
        >
          {role?.name}
          <IconChevronDown size={12} aria-hidden />
        </button>
      </Menu.Target>
      <Menu.Dropdown>
        {ROLES.map(({ role, name, hint }) => (
          <Menu.Item key={role} onClick={() => onChoose(role)} data-chosen={role === column.role}>
            <b>{name}</b> <span className="quiet">{hint}</span>
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  )
}

function Kind({ column }: { column: Reading['columns'][number] }) {
  const words = <div className={classes.kind}>{kindInWords(column)}</div>
  if (column.exceptions.length === 0) return words
  const exceptions = `Not ${kindInWords(column).split(',')[0]}: ${column.exceptions.join(' · ')}`
  return (
    <>
      <Tooltip label={exceptions}>{words}</Tooltip>
      <span className="unseen">{exceptions}</span>
    </>
  )
}
