import { Anchor, Button, PasswordInput, Stack, Text, TextInput } from '@mantine/core'
import { type FormEvent, useState } from 'react'
import { Link } from 'react-router'
import { Notice } from '../shared/Notice.tsx'
import { Doorway } from './Doorway.tsx'
import { useSignIn } from './session.ts'

export function SignIn({ demo, sendsMail }: { demo: boolean; sendsMail: boolean }) {
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const signIn = useSignIn()

  function submit(event: FormEvent) {
    event.preventDefault()
    signIn.mutate({ name, password })
  }

  return (
    <Doorway title="Sign in" under="Did anything really change? See it, and say why.">
      {demo && (
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
          <TextInput
            label="Name"
            autoComplete="username"
            required
            withAsterisk={false}
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          <PasswordInput
            label="Password"
            autoComplete="current-password"
            required
            withAsterisk={false}
            value={password}
            onChange={(event) => setPassword(event.currentTarget.value)}
          />
          <Button
            type="submit"
            variant="default"
            loading={signIn.isPending && signIn.variables !== 'demo'}
          >
            Sign in
          </Button>
          {sendsMail && (
            <Anchor component={Link} to="/forgotten" size="sm">
              I have forgotten my password
            </Anchor>
          )}
        </Stack>
      </form>
    </Doorway>
  )
}
