import { Button, Group, Loader, Modal, Select, Table, Text, TextInput, Title } from '@mantine/core'
import { useEffect, useState } from 'react'
import { useParams } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { type Role, useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { Stretches } from '../shared/Stretches.tsx'
import { useSession } from '../shared/session.ts'
import { dayOf, moment } from '../shared/writing.ts'
import { ROLE_NAMES, usePeople, usePeopleActs, useRecord } from './people.ts'
import { Secret } from './Secret.tsx'

const ROLES = Object.entries(ROLE_NAMES).map(([value, { name }]) => ({ value, label: name }))

/** Who is in the workspace, as what; who is invited; and the record of who did what. */
export function PeoplePage() {
  const { workspace = '' } = useParams()
  const may = useMay()
  useEffect(() => {
    document.title = 'People · Fluctus'
  }, [])
  if (!may.own)
    return (
      <>
        <Title order={1} size={25} mb="sm">
          People
        </Title>
        <p>
          You are {ROLE_NAMES[may.role].name.toLowerCase()} here. Owners see to people and roles.
        </p>
        <Leave workspace={workspace} />
      </>
    )
  return <OwnersView workspace={workspace} />
}

function OwnersView({ workspace }: { workspace: string }) {
  const people = usePeople(workspace)
  const acts = usePeopleActs(workspace)
  const [removing, setRemoving] = useState<Schemas['PersonRow'] | null>(null)
  return (
    <>
      <Title order={1} size={25} mb={4}>
        People
      </Title>
      <p className="quiet">
        {Object.values(ROLE_NAMES)
          .map(({ name, may }) => `${name}: ${may}`)
          .join('. ')}
        .
      </p>
      <Invite workspace={workspace} />
      {people.isPending && <Loader role="status" aria-label="Loading" />}
      {people.error && <Notice error={people.error} retry={people.refetch} />}
      {people.data && (
        <Table.ScrollContainer minWidth={600}>
          <Table aria-label="People" verticalSpacing={6} fz={13.5}>
            <Table.Thead>
              <Table.Tr>
                <Table.Th>Name</Table.Th>
                <Table.Th>Mail</Table.Th>
                <Table.Th w={170}>Role</Table.Th>
                <Table.Th w={110}>
                  <span className="unseen">What can be done</span>
                </Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {people.data.people.map((person) => (
                <Table.Tr key={person.id}>
                  <Table.Td>
                    {person.name} {person.you && <span className="quiet">(you)</span>}
                  </Table.Td>
                  <Table.Td>{person.email || <span className="quiet">none</span>}</Table.Td>
                  <Table.Td>
                    <Select
                      size="xs"
                      aria-label={`Role of ${person.name}`}
                      data={ROLES}
                      allowDeselect={false}
                      value={person.role}
                      onChange={(role) => acts.give.mutate({ id: person.id, role: role as Role })}
                    />
                  </Table.Td>
                  <Table.Td>
                    {!person.you && (
                      <Button
                        size="compact-xs"
                        variant="subtle"
                        aria-label={`Remove ${person.name}`}
                        onClick={() => setRemoving(person)}
                      >
                        Remove
                      </Button>
                    )}
                  </Table.Td>
                </Table.Tr>
              ))}
              {people.data.invitations.map((row) => (
                <Table.Tr key={`invited ${row.id}`}>
                  <Table.Td className="quiet">
                    invited by {row.invited_by || 'somebody'},{' '}
                    {row.expired ? 'not taken in time' : `until ${dayOf(row.expires)}`}
                  </Table.Td>
                  <Table.Td>{row.email}</Table.Td>
                  <Table.Td>{ROLE_NAMES[row.role].name}</Table.Td>
                  <Table.Td>
                    <Button
                      size="compact-xs"
                      variant="subtle"
                      aria-label={`Withdraw the invitation of ${row.email}`}
                      onClick={() => acts.withdraw.mutate(row.id)}
                    >
                      Withdraw
                    </Button>
                  </Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </Table.ScrollContainer>
      )}
      <Group gap="sm" mt="sm">
        <Leave workspace={workspace} />
        <EndWorkspace workspace={workspace} />
      </Group>
      <Record workspace={workspace} />
      <Modal
        opened={removing !== null}
        onClose={() => setRemoving(null)}
        title={`Remove ${removing?.name}?`}
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        <p>
          They see this workspace no more, and their tokens for it end. What they said and did
          stays.
        </p>
        <Button
          color="signal"
          loading={acts.remove.isPending}
          onClick={() =>
            removing && acts.remove.mutate(removing.id, { onSettled: () => setRemoving(null) })
          }
        >
          Remove {removing?.name}
        </Button>
      </Modal>
    </>
  )
}

function Invite({ workspace }: { workspace: string }) {
  const { invite } = usePeopleActs(workspace)
  const [email, setEmail] = useState('')
  const [role, setRole] = useState<Role>('viewer')
  return (
    <form
      aria-label="Invite somebody"
      onSubmit={(event) => {
        event.preventDefault()
        invite.mutate({ email: email.trim(), role }, { onSuccess: () => setEmail('') })
      }}
    >
      <Group align="end" gap="xs" my="sm">
        <TextInput
          label="Invite by mail"
          type="email"
          placeholder="name@marrowick.example"
          required
          withAsterisk={false}
          w={280}
          value={email}
          onChange={(event) => setEmail(event.currentTarget.value)}
        />
        <Select
          label="As"
          w={150}
          data={ROLES}
          allowDeselect={false}
          value={role}
          onChange={(chosen) => setRole(chosen as Role)}
        />
        <Button type="submit" loading={invite.isPending} disabled={!email.trim()}>
          Invite
        </Button>
      </Group>
      {invite.error && <Notice error={invite.error} />}
      {invite.data && (
        <Group gap="xs" role="status" mb="sm">
          <Text size="sm">
            A letter is on its way to {invite.data.invitation.email}. Its address, shown this once:
          </Text>
          <Secret text={invite.data.address} name="the address" />
        </Group>
      )}
    </form>
  )
}

function Leave({ workspace }: { workspace: string }) {
  const { leave } = usePeopleActs(workspace)
  const [asking, setAsking] = useState(false)
  return (
    <>
      <Button variant="default" size="xs" onClick={() => setAsking(true)}>
        Leave this workspace
      </Button>
      <Modal
        opened={asking}
        onClose={() => setAsking(false)}
        title="Leave this workspace?"
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        <p>You see it no more until an owner invites you again. What you said and did stays.</p>
        <Button
          color="signal"
          loading={leave.isPending}
          onClick={() =>
            leave.mutate(undefined, {
              onSuccess: () => window.location.assign('/'),
              onError: () => setAsking(false),
            })
          }
        >
          Leave
        </Button>
      </Modal>
    </>
  )
}

/** Ends a workspace with all that is in it, once its name has been typed. */
function EndWorkspace({ workspace }: { workspace: string }) {
  const { endWorkspace } = usePeopleActs(workspace)
  const [asking, setAsking] = useState(false)
  const [typed, setTyped] = useState('')
  const name = useSession().data?.workspaces.find(({ slug }) => slug === workspace)?.name ?? ''
  return (
    <>
      <Button variant="default" size="xs" onClick={() => setAsking(true)}>
        End this workspace…
      </Button>
      <Modal
        opened={asking}
        onClose={() => setAsking(false)}
        title={`End ${name}?`}
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        <form
          onSubmit={(event) => {
            event.preventDefault()
            endWorkspace.mutate(typed)
          }}
        >
          <p>
            All KPIs, findings, pages, reports and links in it go, for everybody, and cannot be
            brought back. Take a data package first if you may want them again. Its people are told
            by mail; who did what stays on record for as long as this installation keeps it.
          </p>
          {endWorkspace.error && <Notice error={endWorkspace.error} />}
          <TextInput
            label={`Type ${name} to end it`}
            value={typed}
            onChange={(event) => setTyped(event.currentTarget.value)}
          />
          <Button
            mt="sm"
            type="submit"
            color="signal"
            disabled={typed.trim() !== name}
            loading={endWorkspace.isPending}
          >
            End the workspace
          </Button>
        </form>
      </Modal>
    </>
  )
}

function Record({ workspace }: { workspace: string }) {
  const [start, setStart] = useState(0)
  const record = useRecord(workspace, start)
  return (
    <section aria-label="Record">
      <Title order={2} size={17} mt="xl" mb={4}>
        Who did what
      </Title>
      <p className="quiet">
        Sign-ins, roles, links, exports and deletions. Owners read it; nobody can change it.
      </p>
      {record.error && <Notice error={record.error} retry={record.refetch} />}
      {record.data?.count === 0 && <p>Nothing yet.</p>}
      {record.data && record.data.count > 0 && (
        <Table.ScrollContainer minWidth={600}>
          <Table fz={13} verticalSpacing={4} aria-label="Record">
            <Table.Thead>
              <Table.Tr>
                <Table.Th w={170}>When</Table.Th>
                <Table.Th w={200}>Who</Table.Th>
                <Table.Th>What</Table.Th>
                <Table.Th w={130}>From</Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {record.data.audit_events.map((event) => (
                <Table.Tr key={event.id}>
                  <Table.Td>{moment(event.at)}</Table.Td>
                  <Table.Td>{event.person || 'Somebody without an account'}</Table.Td>
                  <Table.Td>{event.text}</Table.Td>
                  <Table.Td>{event.address}</Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </Table.ScrollContainer>
      )}
      <Stretches
        {...{ start }}
        count={record.data?.count ?? 0}
        shown={record.data?.audit_events.length ?? 0}
        onStart={setStart}
      />
    </section>
  )
}
