import { Select, type SelectProps } from '@mantine/core'

/** One of several, in a card: always one of them, chosen in the card itself, which closes otherwise. */
export function CardSelect(props: SelectProps) {
  return <Select allowDeselect={false} comboboxProps={{ withinPortal: false }} {...props} />
}
