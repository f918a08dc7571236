import { Button, Group, Text, TextInput } from '@mantine/core'
import { useState } from 'react'
import { Problem } from '../../api/client.ts'
import { Notice } from '../../shared/Notice.tsx'
import classes from '../Intake.module.css'
import type { Mapping, Uploaded } from '../understood/table.ts'
import { useKeepReading } from './kept.ts'

interface Props {
  workspace: string
  uploaded: Uploaded
  mapping: Mapping
}

/** Keeps how the table is read by a name, so that the next one of its shape is read the same way. */
export function KeepReading({ workspace, uploaded, mapping }: Props) {
  const known = uploaded.recognized?.name
  const [open, setOpen] = useState(false)
  const [name, setName] = useState(known ?? uploaded.name.replace(/\.\w+$/, ''))
  const keep = useKeepReading(workspace, uploaded.id)
  const taken = keep.error instanceof Problem && keep.error.status === 409 ? keep.error : null
  const replace = taken !== null || (known !== undefined && name.trim() === known)
  if (keep.data && keep.variables?.mapping === mapping)
    return (
      <Text size="sm" role="status">
        Kept as {keep.data.name}: the next table of this shape is read the same way.
      </Text>
    )
  if (!open)
    return (
      <button type="button" className={classes.link} onClick={() => setOpen(true)}>
        Keep this reading by name
      </button>
    )
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (name.trim()) keep.mutate({ name: name.trim(), mapping, replace })
      }}
    >
      <Group align="end" gap="xs" mt={4}>
        <TextInput
          size="xs"
          label="Keep this reading as"
          placeholder="Weekly report of the quays"
          maxLength={80}
          autoFocus
          value={name}
          onChange={(event) => {
            setName(event.currentTarget.value)
            keep.reset()
          }}
        />
        <Button size="xs" type="submit" disabled={!name.trim()} loading={keep.isPending}>
          {replace ? 'Replace the one of that name' : 'Keep it'}
        </Button>
        <Button size="xs" variant="default" onClick={() => setOpen(false)}>
          Cancel
        </Button>
      </Group>
      {taken && (
        <Text size="sm" mt={4} role="alert">
          {taken.summary}
        </Text>
      )}
      {keep.error && !taken && <Notice error={keep.error} />}
    </form>
  )
}
