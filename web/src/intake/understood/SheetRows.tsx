import { Button, Menu } from '@mantine/core'
import { useState } from 'react'
import classes from '../Intake.module.css'
import type { Mapping, Reading } from './table.ts'

interface Props {
  rows: Reading['sheet_rows']
  mapping: Mapping
  onChange: (mapping: Mapping) => void
}

/** The rows of the sheet as they stand in it, to say where the table begins and where it ends. */
export function SheetRows({ rows, mapping, onChange }: Props) {
  const { first_line, last_line } = mapping
  const [open, setOpen] = useState(false)
  const chosen = first_line != null || last_line != null
  return (
    <div>
      <Button
        size="compact-xs"
        variant="subtle"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        {open ? 'Hide the rows of the sheet' : 'The table begins or ends elsewhere'}
      </Button>
      {chosen && (
        <Button
          size="compact-xs"
          variant="subtle"
          onClick={() => onChange({ ...mapping, first_line: null, last_line: null })}
        >
          Find the table again
        </Button>
      )}
      {open && (
        <section
          className={`card ${classes.tableFrame}`}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard
          tabIndex={0}
          aria-label="Rows of the sheet"
        >
          <table className={classes.found}>
            <tbody>
              {rows.map((row) => (
                <tr key={row.line} data-inside={inside(row.line, mapping)}>
                  <th scope="row" className={classes.line}>
                    <Menu position="bottom-start" withinPortal>
                      <Menu.Target>
                        <button
                          type="button"
                          className={classes.link}
                          aria-label={`Row ${row.line}: what it is`}
                        >
                          {row.line}
                        </button>
                      </Menu.Target>
                      <Menu.Dropdown>
                        <Menu.Item
                          onClick={() =>
                            onChange({ ...mapping, first_line: row.line, header_rows: 1 })
                          }
                        >
                          It names the columns
                        </Menu.Item>
                        <Menu.Item
                          onClick={() =>
                            onChange({ ...mapping, first_line: row.line, header_rows: 0 })
                          }
                        >
                          The values begin here, without names
                        </Menu.Item>
                        <Menu.Item onClick={() => onChange({ ...mapping, last_line: row.line })}>
                          It is the last row of the table
                        </Menu.Item>
                      </Menu.Dropdown>
                    </Menu>
                  </th>
                  {row.cells.map((cell, n) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: columns do not move
                    <td key={n}>{cell}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </div>
  )
}

function inside(line: number, { first_line, last_line }: Mapping): boolean {
  return line >= (first_line ?? 0) && line <= (last_line ?? Number.POSITIVE_INFINITY)
}
