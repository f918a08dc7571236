import { Button, Group, Stack, Text, TextInput } from '@mantine/core'
import { useState } from 'react'
import { Notice } from '../../../shared/Notice.tsx'

interface Props {
  name: string
  deleting: boolean
  deleteError: Error | null
  onDelete: (name: string) => void
}

/** Deletes a KPI once its name was typed. */
export function DeleteKpi({ name, deleting, deleteError, onDelete }: Props) {
  const [typed, setTyped] = useState('')
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        onDelete(typed)
      }}
    >
      <Stack gap="xs">
        <Text size="sm">
          Deleting removes the KPI with all its values, segments and history. It cannot be undone.
          KPIs that are made from it keep their values, and follow no more.
        </Text>
        {deleteError && <Notice error={deleteError} />}
        <Group align="flex-end">
          <TextInput
            label={`Type ${name} to delete it`}
            value={typed}
            onChange={(event) => setTyped(event.currentTarget.value)}
          />
          <Button
            type="submit"
            color="signal"
            variant="outline"
            loading={deleting}
            disabled={typed !== name}
          >
            Delete KPI
          </Button>
        </Group>
      </Stack>
    </form>
  )
}
