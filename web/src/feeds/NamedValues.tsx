import { ActionIcon, Button, Checkbox, Group, TextInput } from '@mantine/core'
import { IconX } from '@tabler/icons-react'
import type { Schemas } from '../api/client.ts'

export type NamedValue = Schemas['NamedValueRequest']

interface Props {
  noun: string
  rows: NamedValue[]
  onChange: (rows: NamedValue[]) => void
}

/** Names with values, each of which may be a secret. */
export function NamedValues({ noun, rows, onChange }: Props) {
  const set = (at: number, change: Partial<NamedValue>) =>
    onChange(rows.map((row, n) => (n === at ? { ...row, ...change } : row)))
  return (
    <div>
      {rows.map((row, n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows have nothing else to be known by
        <Group key={n} gap="xs" mb={4} wrap="nowrap">
          <TextInput
            aria-label={`Name of the ${noun}`}
            placeholder="Name"
            value={row.name}
            onChange={({ currentTarget }) => set(n, { name: currentTarget.value })}
          />
          <TextInput
            aria-label={`Value of the ${noun}`}
            placeholder={row.value === null ? 'Kept as it is' : 'Value'}
            type={row.secret ? 'password' : 'text'}
            autoComplete="off"
            value={row.value ?? ''}
            onChange={({ currentTarget }) => set(n, { value: currentTarget.value })}
          />
          <Checkbox
            label="Secret"
            checked={row.secret}
            onChange={({ currentTarget }) => set(n, { secret: currentTarget.checked })}
          />
          <ActionIcon
            variant="subtle"
            aria-label={`Remove this ${noun}`}
            onClick={() => onChange(rows.filter((_, at) => at !== n))}
          >
            <IconX size={14} />
          </ActionIcon>
        </Group>
      ))}
      <Button
        size="compact-xs"
        variant="default"
        onClick={() => onChange([...rows, { name: '', value: '', secret: false }])}
      >
        Add a {noun}
      </Button>
    </div>
  )
}
