import { Button, Group } from '@mantine/core'
import { useParams } from 'react-router'
import { nameBegun, withName } from '../for-you/forYou.ts'
import { useMembers } from '../shared/members.ts'

const MOST = 5

/** Offers the people whose name is being typed behind an @, below the field it is typed into. */
export function NameSuggestions({
  text,
  onChange,
}: {
  text: string
  onChange: (text: string) => void
}) {
  const { workspace = '' } = useParams()
  const begun = nameBegun(text)
  const members = useMembers(workspace, begun !== null).data ?? []
  const wanted = begun?.toLowerCase() ?? ''
  const fitting = members.filter(
    ({ name, username }) =>
      name.toLowerCase() !== wanted.trim() &&
      (name.toLowerCase().includes(wanted) || username.toLowerCase().startsWith(wanted)),
  )
  if (begun === null || fitting.length === 0) return null
  return (
    <Group gap={4} role="group" aria-label="Name a person">
      {fitting.slice(0, MOST).map(({ username, name }) => (
        <Button
          key={username}
          size="compact-xs"
          variant="light"
          onClick={() => onChange(withName(text, name))}
        >
          @{name}
        </Button>
      ))}
    </Group>
  )
}
