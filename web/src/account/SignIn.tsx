import { Anchor, Button, Stack, Text } from '@mantine/core'
import { type FormEvent, useState } from 'react'
import { Link } from 'react-router'
import { Notice } from '../shared/Notice.tsx'
import { useSignIn } from '../shared/session.ts'
import { Doorway } from './Doorway.tsx'
import { NameAndPassword } from './NameAndPassword.tsx'

export function SignIn({ demo, sendsMail }: { demo: boolean; sendsMail: boolean }) {
  const [typed, setTyped] = useState({ name: '', password: '' })
  const signIn = useSignIn()

  function submit(event: FormEvent) {
    event.preventDefault()
    signIn.mutate(typed)
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
          <NameAndPassword {...typed} onChange={setTyped} />
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
