import { Menu, UnstyledButton } from '@mantine/core'
import { useState } from 'react'
import { useMembers } from '../shared/members.ts'
import { notifyProblem } from '../shared/notifications.tsx'
import classes from './FillIn.module.css'
import { type DueValue, useFillBy } from './fillIn.ts'

/** Who sees to a value, and for who may edit the way to give it to somebody. */
export function FilledBy(props: { workspace: string; value: DueValue; edits: boolean }) {
  const { workspace, value, edits } = props
  const [opened, setOpened] = useState(false)
  const members = useMembers(workspace, opened)
  const give = useFillBy(workspace)
  const name = value.filled_by?.name ?? ''
  if (!edits) return name ? <span className="quiet">by {name}</span> : null
  const choose = (username: string | null) => give(value.kpi, username).catch(notifyProblem)
  return (
    <Menu opened={opened} onChange={setOpened} position="bottom-start">
      <Menu.Target>
        <UnstyledButton className={classes.by} aria-label={`Who sees to ${value.name}`}>
          {name ? `by ${name}` : 'by anybody'}
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>Who sees to it that it comes</Menu.Label>
        {(members.data ?? []).map((member) => (
          <Menu.Item key={member.username} onClick={() => choose(member.username)}>
            {member.name}
          </Menu.Item>
        ))}
        <Menu.Item onClick={() => choose(null)}>Anybody</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  )
}
