import { Table } from '@mantine/core'
import { Link } from 'react-router'
import { KINDS } from '../shared/eventKinds.ts'
import type { KpiRow } from '../shared/kpis.ts'
import { days } from '../shared/writing.ts'
import classes from './Events.module.css'
import type { Event } from './events.ts'

const KIND = Object.fromEntries(KINDS.map(({ value, label }) => [value, label]))

interface Props {
  workspace: string
  rows: readonly Event[]
  kpis: readonly KpiRow[]
  onOpen: (event: Event) => void
  label?: string
}

/** Events in their order, with the KPIs that each is told with. */
export function EventTable({ workspace, rows, kpis, onOpen, label = 'Events' }: Props) {
  const names = new Map(kpis.map((kpi) => [kpi.slug, kpi.name]))
  return (
    <Table.ScrollContainer minWidth={640}>
      <Table aria-label={label} verticalSpacing={5} fz={13}>
        <Table.Thead>
          <Table.Tr>
            <Table.Th w={210}>Days</Table.Th>
            <Table.Th w={90}>Kind</Table.Th>
            <Table.Th>What happened</Table.Th>
            <Table.Th>Told with</Table.Th>
          </Table.Tr>
        </Table.Thead>
        <Table.Tbody>
          {rows.map((event) => (
            <Table.Tr key={event.id}>
              <Table.Td>{days(event.first, event.last)}</Table.Td>
              <Table.Td>{KIND[event.kind]}</Table.Td>
              <Table.Td>
                <button type="button" className={classes.title} onClick={() => onOpen(event)}>
                  {event.title}
                </button>{' '}
                <span className="quiet">{event.text}</span>
              </Table.Td>
              <Table.Td>
                {event.everywhere
                  ? 'All KPIs'
                  : event.kpis.map((slug, n) => (
                      <span key={slug}>
                        {n > 0 && ', '}
                        <Link to={`/${workspace}/charts/${slug}`}>{names.get(slug) ?? slug}</Link>
                      </span>
                    ))}
              </Table.Td>
            </Table.Tr>
          ))}
        </Table.Tbody>
      </Table>
    </Table.ScrollContainer>
  )
}
