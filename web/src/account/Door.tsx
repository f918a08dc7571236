import { Button, Group, Modal, PasswordInput, Stack, Text } from '@mantine/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useEffect, useEffectEvent, useState } from 'react'
import { answer, client, Problem, type Schemas } from '../api/client.ts'
import { answerDoor, useAsked } from '../api/doorkeeper.ts'
import { keys } from '../api/keys.ts'
import { Notice } from '../shared/Notice.tsx'
import { startOver, useGoElsewhere, useSignIn } from '../shared/session.ts'
import { CodeField } from './CodeField.tsx'
import { NameAndPassword } from './NameAndPassword.tsx'

/** Asks for a password over the page, so that what is in hand stays and goes on. */
export function Door() {
  const asked = useAsked()
  if (!asked) return null
  return asked === 'sign-in' ? <SignInAgain /> : <Confirm />
}

function Asking({
  title,
  text,
  error,
  onSubmit,
  busy,
  children,
}: {
  title: string
  text: string
  error: Error | null
  onSubmit: () => void
  busy: boolean
  children: React.ReactNode
}) {
  function submit(event: FormEvent) {
    event.preventDefault()
    event.stopPropagation()
    onSubmit()
  }
  return (
    <Modal
      opened
      onClose={() => answerDoor(false)}
      title={title}
      zIndex={1000}
      closeButtonProps={{ 'aria-label': 'Close' }}
      returnFocus
    >
      <form onSubmit={submit}>
        <Stack gap="sm">
          <Text size="sm">{text}</Text>
          {error && <Notice error={error} />}
          {children}
          <Group>
            <Button type="submit" loading={busy}>
              Go on
            </Button>
            <Button variant="default" onClick={() => answerDoor(false)}>
              Not now
            </Button>
          </Group>
        </Stack>
      </form>
    </Modal>
  )
}

function SignInAgain() {
  const queries = useQueryClient()
  const before = queries.getQueryData<Schemas['Session']>(keys.session)
  const [typed, setTyped] = useState({ name: before?.username ?? '', password: '' })
  const [code, setCode] = useState('')
  const signIn = useSignIn()
  const [asksCode, setAsksCode] = useState(false)
  const inAgain = (session: Schemas['Session']) => {
    setAsksCode(session.asks_code)
    if (session.asks_code) return
    if (before?.username && session.username !== before.username) {
      // What is on the screen is another person's.
      startOver(queries)
      return
    }
    answerDoor(true)
  }
  // Typed too long ago, the password is asked for again.
  const tooLate = (error: Error) =>
    error instanceof Problem && error.status === 409 && setAsksCode(false)
  return (
    <Asking
      title="Sign in again"
      text="Your session has ended. What you have in hand is still here, and goes on once you are signed in."
      error={signIn.error}
      busy={signIn.isPending && signIn.variables !== 'demo'}
      onSubmit={() =>
        signIn.mutate(asksCode ? { code } : typed, { onSuccess: inAgain, onError: tooLate })
      }
    >
      {before?.demo && !asksCode && (
        <Button
          variant="default"
          loading={signIn.isPending && signIn.variables === 'demo'}
          onClick={() => signIn.mutate('demo', { onSuccess: inAgain })}
        >
          Look around as Marrowick Ferries
        </Button>
      )}
      {before?.elsewhere && !asksCode && <InAnotherTab name={before.elsewhere} onBack={inAgain} />}
      {asksCode ? (
        <CodeField code={code} onChange={setCode} />
      ) : (
        <NameAndPassword {...typed} onChange={setTyped} toPassword />
      )}
    </Asking>
  )
}

/** Signs in through the provider beside this page, which goes on when one comes back to it. */
function InAnotherTab({
  name,
  onBack,
}: {
  name: string
  onBack: (session: Schemas['Session']) => void
}) {
  const go = useGoElsewhere()
  const cameBack = useEffectEvent(async () => {
    const session = await answer(client.GET('/api/v1/session'))
    if (session.username) onBack(session)
  })
  useEffect(() => {
    const look = () => void cameBack()
    window.addEventListener('focus', look)
    return () => window.removeEventListener('focus', look)
  }, [])
  return (
    <Button
      variant="default"
      loading={go.isPending}
      onClick={() => {
        // Opened at once: later, browsers take it for something nobody asked for.
        const tab = window.open('', '_blank')
        go.mutate(
          { to: '/' },
          {
            onSuccess: ({ address }) => tab?.location.assign(address),
            onError: () => tab?.close(),
          },
        )
      }}
    >
      Sign in through {name}, in another tab
    </Button>
  )
}

function Confirm() {
  const [password, setPassword] = useState('')
  const confirm = useMutation({
    mutationFn: () => answer(client.POST('/api/v1/session/confirm', { body: { password } })),
    onSuccess: () => answerDoor(true),
  })
  return (
    <Asking
      title="Confirm that it is you"
      text="For roles, tokens and deletions the password is asked for again. It holds for a quarter of an hour."
      error={confirm.error}
      busy={confirm.isPending}
      onSubmit={() => confirm.mutate()}
    >
      <PasswordInput
        label="Your password"
        autoComplete="current-password"
        required
        withAsterisk={false}
        data-autofocus
        value={password}
        onChange={(event) => setPassword(event.currentTarget.value)}
      />
    </Asking>
  )
}
