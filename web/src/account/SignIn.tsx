import { Anchor, Button, Stack, Text } from '@mantine/core'
import { type FormEvent, useState } from 'react'
import { Link, useLocation } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { Notice } from '../shared/Notice.tsx'
import { useSignIn, useSignOut } from '../shared/session.ts'
import { CodeField } from './CodeField.tsx'
import { Doorway } from './Doorway.tsx'
import { NameAndPassword } from './NameAndPassword.tsx'
import { Said, ThroughProvider } from './ThroughProvider.tsx'

export function SignIn({ session }: { session: Schemas['Session'] }) {
  return session.asks_code ? <WithCode /> : <WithPassword session={session} />
}

function WithCode() {
  const [code, setCode] = useState('')
  const signIn = useSignIn()
  const signOut = useSignOut()
  return (
    <Doorway title="One more step" under="Your password was right.">
      <form
        onSubmit={(event) => {
          event.preventDefault()
          signIn.mutate({ code })
        }}
      >
        <Stack gap="sm">
          {signIn.error && <Notice error={signIn.error} />}
          <CodeField code={code} onChange={setCode} />
          <Button type="submit" loading={signIn.isPending}>
            Sign in
          </Button>
          <Button variant="default" onClick={() => signOut.mutate()}>
            Begin again with another name
          </Button>
        </Stack>
      </form>
    </Doorway>
  )
}

function WithPassword({ session }: { session: Schemas['Session'] }) {
  const [typed, setTyped] = useState({ name: '', password: '' })
  const signIn = useSignIn()
  const { pathname, search } = useLocation()
  const here = `${pathname}${search}`

  function submit(event: FormEvent) {
    event.preventDefault()
    signIn.mutate(typed)
  }

  return (
    <Doorway title="Sign in" under="Did anything really change? See it, and say why.">
      {session.demo && (
        <>
          <Button
            fullWidth
            size="md"
            loading={signIn.isPending && signIn.variables === 'demo'}
            onClick={() => signIn.mutate('demo')}
          >
            Look around as Marrowick Ferries
          </Button>
          <Text size="xs" c="dimmed" ta="center" my="sm">
            A made-up ferry operator, no password needed. Or use an account of your own:
          </Text>
        </>
      )}
      <form onSubmit={submit}>
        <Stack gap="sm">
          {signIn.error && <Notice error={signIn.error} />}
          {session.said && <Said>{session.said}</Said>}
          {session.elsewhere && <ThroughProvider name={session.elsewhere} to={here} />}
          <NameAndPassword {...typed} onChange={setTyped} />
          <Button
            type="submit"
            variant="default"
            loading={signIn.isPending && signIn.variables !== 'demo'}
          >
            Sign in
          </Button>
          {session.sends_mail && (
            <Anchor component={Link} to="/forgotten" size="sm">
              I have forgotten my password
            </Anchor>
          )}
        </Stack>
      </form>
    </Doorway>
  )
}
