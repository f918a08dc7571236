import { Button, PasswordInput, Stack, Text, TextInput, Title } from '@mantine/core'
import { type FormEvent, useState } from 'react'
import { Logo } from '../app/Logo.tsx'
import { Notice } from '../shared/Notice.tsx'
import classes from './SignIn.module.css'
import { useSignIn } from './session.ts'

export function SignIn({ demo }: { demo: boolean }) {
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const signIn = useSignIn()

  function submit(event: FormEvent) {
    event.preventDefault()
    signIn.mutate({ name, password })
  }

  return (
    <main className={classes.page}>
      <div className={classes.brand}>
        <Logo size={44} />
        <span>Fluctus</span>
      </div>
      <div className={`card ${classes.box}`}>
        <Title order={1} size={25}>
          Sign in
        </Title>
        <Text c="dimmed" mb="md">
          Did anything really change? See it, and say why.
        </Text>
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
          </Stack>
        </form>
      </div>
    </main>
  )
}
