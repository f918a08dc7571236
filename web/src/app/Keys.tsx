import { Modal, Table } from '@mantine/core'

const KEYS: [string, string][] = [
  ['Ctrl K', 'Jump to anything'],
  ['← →', 'Walk the points of the chart'],
  ['Home End', 'First and last point'],
  ['. ,', 'Next and previous signal'],
  ['R', 'Put a shift at the point; then ← → move it, Enter keeps it'],
  ['X', 'Set the point aside, or put it back'],
  ['E', 'Add an event at the point'],
  ['L', 'Add a line'],
  ['S', 'Start a selection at the point; then Shift ← → makes it longer'],
  ['F', 'Change the form: line, columns, steps'],
  ['+ −', 'Show fewer or more dates'],
  ['0', 'Show all dates'],
  ['Esc', 'Leave what you are doing without keeping it'],
  ['V', 'Look at a chart from the overview, without leaving it'],
  ['Alt ↑ ↓', 'Move a KPI in the overview, in an order of your own'],
  ['Delete', 'Remove the shift whose handle has the focus'],
  ['Ctrl Z', 'Undo'],
  ['Ctrl Shift Z', 'Redo'],
  ['Enter ↓ ↑', 'To fill in: the next value, and the one before'],
  ['Ctrl Enter', 'To fill in: save what is typed'],
  ['→ ←', 'In a meeting: the next thing or step, and the one before'],
  ['B', 'In a meeting: blank the screen'],
  ['U', 'In a meeting: build the chart up step by step'],
  ['W', 'In a meeting: write down a cause, a person, a remark'],
  ['?', 'Show these keys'],
]

export function Keys({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      title="Keys"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <Table>
        <Table.Tbody>
          {KEYS.map(([key, does]) => (
            <Table.Tr key={key}>
              <Table.Th scope="row" w={130}>
                <kbd>{key}</kbd>
              </Table.Th>
              <Table.Td>{does}</Table.Td>
            </Table.Tr>
          ))}
        </Table.Tbody>
      </Table>
    </Modal>
  )
}
