import { Table } from '@mantine/core'
import type { Chart } from '../../chart/model/types.ts'
import { fullText } from '../../shared/numbers.ts'
import { longPeriod } from '../../shared/writing.ts'

const MOST = 400

/** The rows of the table of points, newest first. */
export default function PointRows({ chart }: { chart: Chart }) {
  const { points, kpi } = chart
  const flags = new Map<number, string[]>()
  for (const signal of chart.signals) {
    for (const point of signal.points) {
      flags.set(point, [...(flags.get(point) ?? []), signal.title])
    }
  }
  const aside = new Map(chart.set_aside.map((mark) => [mark.position, mark.reason]))
  const order = points.position.map((_, n) => n).reverse()
  return (
    <Table striped withTableBorder mt="xs" stickyHeader>
      <caption className="quiet">
        {points.position.length > MOST
          ? `The newest ${MOST} of the points drawn. The export has every value.`
          : 'Newest first.'}
      </caption>
      <Table.Thead>
        <Table.Tr>
          {['Period', 'Value', 'Moving range', 'Signals'].map((name) => (
            <Table.Th key={name} scope="col">
              {name}
            </Table.Th>
          ))}
        </Table.Tr>
      </Table.Thead>
      <Table.Tbody>
        {order.slice(0, MOST).map((n) => {
          const position = points.position[n] ?? 0
          const range = points.moving_range[n] ?? null
          const reason = aside.get(position)
          return (
            <Table.Tr key={position}>
              <Table.Th scope="row">{longPeriod(points.period[n] ?? '', kpi.grain)}</Table.Th>
              <Table.Td>{fullText(points.value[n] ?? 0, kpi, { bare: true })}</Table.Td>
              <Table.Td>{range === null ? '' : fullText(range, kpi, { bare: true })}</Table.Td>
              <Table.Td>
                {reason === undefined
                  ? (flags.get(position) ?? []).join('; ')
                  : `Set aside: ${reason}`}
              </Table.Td>
            </Table.Tr>
          )
        })}
      </Table.Tbody>
    </Table>
  )
}
