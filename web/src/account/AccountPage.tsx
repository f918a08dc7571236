import {
  Button,
  Group,
  Loader,
  Modal,
  PasswordInput,
  Stack,
  Table,
  Text,
  Title,
} from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { useEffect, useState } from 'react'
import { Notice } from '../shared/Notice.tsx'
import { moment } from '../shared/writing.ts'
import { Elsewhere } from './Elsewhere.tsx'
import { useBrowsers, useElsewhere, useOwnActs } from './own.ts'
import { SecondStep } from './SecondStep.tsx'

/** One's own account: the password, and the browsers that are signed in. */
export function AccountPage() {
  const browsers = useBrowsers()
  const acts = useOwnActs()
  const known = useElsewhere()
  useEffect(() => {
    document.title = 'Your account · Fluctus'
  }, [])
  const others = browsers.data?.filter((row) => !row.this) ?? []
  return (
    <>
      <Title order={1} size={25} mb="sm">
        Your account
      </Title>
      {/* Who has none signs in elsewhere, or looks around in the demo. */}
      {known.data?.has_password !== false && (
        <>
          <ChangePassword />
          <SecondStep />
        </>
      )}
      <Elsewhere />
      <Title order={2} size={17} mt="xl" mb="xs">
        Where you are signed in
      </Title>
      {browsers.isPending && <Loader role="status" aria-label="Loading" />}
      {browsers.error && <Notice error={browsers.error} retry={browsers.refetch} />}
      {browsers.data && (
        <Table.ScrollContainer minWidth={600}>
          <Table fz={13} verticalSpacing={6} aria-label="Browsers">
            <Table.Thead>
              <Table.Tr>
                <Table.Th>Browser</Table.Th>
                <Table.Th w={130}>From</Table.Th>
                <Table.Th w={170}>Since</Table.Th>
                <Table.Th w={170}>Last seen</Table.Th>
                <Table.Th w={110}>
                  <span className="unseen">What can be done</span>
                </Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {browsers.data.map((row) => (
                <Table.Tr key={row.id}>
                  <Table.Td>
                    {browserName(row.browser)} {row.this && <b>(this one)</b>}
                  </Table.Td>
                  <Table.Td>{row.address}</Table.Td>
                  <Table.Td>{moment(row.began)}</Table.Td>
                  <Table.Td>{moment(row.seen)}</Table.Td>
                  <Table.Td>
                    {!row.this && (
                      <Button
                        size="compact-xs"
                        variant="subtle"
                        aria-label={`Sign out ${browserName(row.browser)}, since ${moment(row.began)}`}
                        onClick={() => acts.end.mutate(row.id)}
                      >
                        Sign out
                      </Button>
                    )}
                  </Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </Table.ScrollContainer>
      )}
      {others.length > 1 && (
        <Button variant="default" size="xs" onClick={() => acts.endOthers.mutate()}>
          Sign all others out
        </Button>
      )}
      <Whole />
    </>
  )
}

function ChangePassword() {
  const acts = useOwnActs()
  const [old, setOld] = useState('')
  const [password, setPassword] = useState('')
  return (
    <>
      <Title order={2} size={17} mb="xs">
        Password
      </Title>
      <form
        aria-label="Change the password"
        onSubmit={(event) => {
          event.preventDefault()
          acts.password.mutate(
            { old, password },
            {
              onSuccess: () => {
                setOld('')
                setPassword('')
              },
            },
          )
        }}
      >
        <Stack gap="sm" maw={360}>
          {acts.password.error && <Notice error={acts.password.error} />}
          <PasswordInput
            label="Your password now"
            autoComplete="current-password"
            value={old}
            onChange={(event) => setOld(event.currentTarget.value)}
          />
          <PasswordInput
            label="New password"
            autoComplete="new-password"
            value={password}
            onChange={(event) => setPassword(event.currentTarget.value)}
          />
          <Group>
            <Button type="submit" loading={acts.password.isPending} disabled={!old || !password}>
              Change the password
            </Button>
            {acts.password.isSuccess && (
              <span role="status">It is changed; other browsers are signed out.</span>
            )}
          </Group>
        </Stack>
      </form>
    </>
  )
}

/** The account as a whole: what is kept of it, and its end. */
function Whole() {
  const acts = useOwnActs()
  const [ending, end] = useDisclosure()
  return (
    <>
      <Title order={2} size={17} mt="xl" mb="xs">
        The account as a whole
      </Title>
      <Group>
        <Button variant="default" loading={acts.data.isPending} onClick={() => acts.data.mutate()}>
          Take all that is kept of me
        </Button>
        <Button variant="default" onClick={end.open}>
          End my account…
        </Button>
      </Group>
      <Modal
        opened={ending}
        onClose={end.close}
        title="End your account?"
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        <Stack gap="sm">
          <Text size="sm">
            You leave every workspace. What you wrote there stays, without your name; nobody can
            sign in with this account any more. It cannot be undone.
          </Text>
          {acts.endAccount.error && <Notice error={acts.endAccount.error} />}
          <Group>
            <Button
              color="signal"
              loading={acts.endAccount.isPending}
              onClick={() => acts.endAccount.mutate()}
            >
              End my account
            </Button>
            <Button variant="default" onClick={end.close}>
              Keep it
            </Button>
          </Group>
        </Stack>
      </Modal>
    </>
  )
}

/** `Firefox on Linux`, from how a browser names itself; the name as it is where that says neither. */
export function browserName(said: string): string {
  // In this order: most claim to be those that come later as well.
  const names = ['Edg', 'OPR', 'Firefox', 'Chrome', 'Safari']
  const called: Record<string, string> = { Edg: 'Edge', OPR: 'Opera' }
  const found = names.find((name) => said.includes(`${name}/`))
  const system = ['Android', 'iPhone', 'iPad', 'Windows', 'Mac', 'Linux'].find((name) =>
    said.includes(name),
  )
  if (!found) return said || 'A browser that does not name itself'
  return system ? `${called[found] ?? found} on ${system}` : (called[found] ?? found)
}
