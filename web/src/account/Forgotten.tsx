import { Anchor, Button, Checkbox, PasswordInput, Stack, Text, TextInput } from '@mantine/core'
import { useState } from 'react'
import { Link, useLocation } from 'react-router'
import { Notice } from '../shared/Notice.tsx'
import { Doorway } from './Doorway.tsx'
import { useReset, useSendLetter } from './own.ts'

/** Asks for a letter with which a password is set anew. */
export function Forgotten() {
  const [name, setName] = useState('')
  const send = useSendLetter()
  return (
    <Doorway title="Forgotten password" under="A letter lets you set a new one.">
      {send.isSuccess ? (
        <Stack gap="sm">
          <Text role="status">
            If there is such an account with a mail address, a letter is on its way to it. It works
            for a day, once.
          </Text>
          <Anchor component={Link} to="/">
            Back to signing in
          </Anchor>
        </Stack>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            send.mutate(name.trim())
          }}
        >
          <Stack gap="sm">
            {send.error && <Notice error={send.error} />}
            <TextInput
              label="Name or mail address"
              autoComplete="username"
              required
              withAsterisk={false}
              value={name}
              onChange={(event) => setName(event.currentTarget.value)}
            />
            <Button type="submit" loading={send.isPending} disabled={!name.trim()}>
              Send a letter
            </Button>
            <Anchor component={Link} to="/" size="sm">
              Back to signing in
            </Anchor>
          </Stack>
        </form>
      )}
    </Doorway>
  )
}

/** Sets a password anew, from the address of the letter. */
export function Reset() {
  const secret = useLocation().hash.slice(1)
  const [password, setPassword] = useState('')
  const [endTokens, setEndTokens] = useState(true)
  const reset = useReset()
  return (
    <Doorway title="New password" under="Every browser is signed out when it is set.">
      {reset.isSuccess ? (
        <Stack gap="sm">
          <Text role="status">The new password is set.</Text>
          <Anchor href="/">Sign in with it</Anchor>
        </Stack>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            reset.mutate({ secret, password, end_tokens: endTokens })
          }}
        >
          <Stack gap="sm">
            {reset.error && <Notice error={reset.error} />}
            <PasswordInput
              label="New password"
              autoComplete="new-password"
              required
              withAsterisk={false}
              value={password}
              onChange={(event) => setPassword(event.currentTarget.value)}
            />
            <Checkbox
              label="End my tokens as well: programs that use them are refused from then on"
              checked={endTokens}
              onChange={(event) => setEndTokens(event.currentTarget.checked)}
            />
            <Button type="submit" loading={reset.isPending} disabled={!password}>
              Set the password
            </Button>
          </Stack>
        </form>
      )}
    </Doorway>
  )
}
