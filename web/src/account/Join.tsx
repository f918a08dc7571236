import { Button, Loader, PasswordInput, Stack, Text, TextInput } from '@mantine/core'
import { useState } from 'react'
import { useLocation } from 'react-router'
import { Notice } from '../shared/Notice.tsx'
import { useSession, useSignOut } from '../shared/session.ts'
import { dayOf } from '../shared/writing.ts'
import { Doorway } from './Doorway.tsx'
import { useInvitation, useJoin } from './own.ts'
import { ROLE_NAMES } from './people.ts'
import { ThroughProvider } from './ThroughProvider.tsx'

/** An invitation in the hand of whoever was invited. */
export function Join() {
  const secret = useLocation().hash.slice(1)
  const session = useSession()
  const offer = useInvitation(secret, session.isSuccess)
  const signOut = useSignOut()
  const join = useJoin()
  const [entry, setEntry] = useState({ username: '', name: '', password: '' })
  const set = (more: Partial<typeof entry>) => setEntry({ ...entry, ...more })
  // The whole application begins anew with what may be seen from now on.
  const enter = { onSuccess: ({ slug }: { slug: string }) => window.location.assign(`/${slug}`) }
  const signedIn = session.data?.person
  if (offer.error)
    return (
      <Doorway title="Invitation" under="">
        <Notice error={offer.error} />
      </Doorway>
    )
  if (!offer.data || session.isPending) return <Loader role="status" aria-label="Loading" />
  const { workspace, role, invited_by, email, expires, has_account } = offer.data
  return (
    <Doorway
      title={`Join ${workspace}`}
      under={`${invited_by || 'Somebody'} invites you as ${ROLE_NAMES[role].name.toLowerCase()}: ${ROLE_NAMES[role].may}. Until ${dayOf(expires)}, once.`}
    >
      <Stack gap="sm">
        {join.error && <Notice error={join.error} />}
        {signedIn ? (
          <>
            <Text size="sm">
              You are signed in as {signedIn}. The invitation was sent to {email}.
            </Text>
            <Button
              loading={join.isPending}
              onClick={() => join.mutate({ secret, ...entry }, enter)}
            >
              Join as {signedIn}
            </Button>
            <Button variant="default" onClick={() => signOut.mutate()}>
              Sign out
            </Button>
          </>
        ) : has_account ? (
          <>
            <Text size="sm">
              There is an account for {email}. Sign in with it, then open this invitation again.
            </Text>
            <Button component="a" href="/">
              Sign in
            </Button>
          </>
        ) : (
          <>
            {session.data?.elsewhere && (
              <ThroughProvider name={session.data.elsewhere} to="/" secret={secret} act="Join" />
            )}
            <form
              onSubmit={(event) => {
                event.preventDefault()
                join.mutate({ secret, ...entry }, enter)
              }}
            >
              <Stack gap="sm">
                <TextInput
                  label="Your name, as others see it"
                  autoComplete="name"
                  required
                  withAsterisk={false}
                  maxLength={120}
                  value={entry.name}
                  onChange={(event) => set({ name: event.currentTarget.value })}
                />
                <TextInput
                  label="Name to sign in with"
                  autoComplete="username"
                  required
                  withAsterisk={false}
                  maxLength={150}
                  value={entry.username}
                  onChange={(event) => set({ username: event.currentTarget.value })}
                />
                <PasswordInput
                  label="Password"
                  autoComplete="new-password"
                  required
                  withAsterisk={false}
                  value={entry.password}
                  onChange={(event) => set({ password: event.currentTarget.value })}
                />
                <Button type="submit" loading={join.isPending}>
                  Join
                </Button>
              </Stack>
            </form>
          </>
        )}
      </Stack>
    </Doorway>
  )
}
