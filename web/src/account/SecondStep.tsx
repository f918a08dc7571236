import { Button, Group, Loader, Modal, Stack, Text, Title } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { useState } from 'react'
import { Notice } from '../shared/Notice.tsx'
import { counted, dayOf } from '../shared/writing.ts'
import { CodeField } from './CodeField.tsx'
import { useSecondStep, useSecondStepActs } from './own.ts'
import { Secret } from './Secret.tsx'

/** The second step at signing in: whether there is one, its setting up, and its end. */
export function SecondStep() {
  const state = useSecondStep()
  const acts = useSecondStepActs()
  const [open, dialog] = useDisclosure()
  const { data } = state
  const setUp = () => acts.begin.mutate(undefined, { onSuccess: dialog.open })
  return (
    <>
      <Title order={2} size={17} mt="xl" mb="xs">
        Second step at signing in
      </Title>
      {state.isPending && <Loader role="status" aria-label="Loading" />}
      {state.error && <Notice error={state.error} retry={state.refetch} />}
      {acts.begin.error && <Notice error={acts.begin.error} />}
      {acts.end.error && <Notice error={acts.end.error} />}
      {data && (
        <Group>
          <Text size="sm">
            {data.since
              ? `On since ${dayOf(data.since)}: signing in takes a code of your device. ${counted(data.recovery_left, 'recovery code')} left.`
              : 'Off: signing in takes your password alone.'}
          </Text>
          {data.since ? (
            <Button
              variant="default"
              size="xs"
              loading={acts.end.isPending}
              onClick={() => acts.end.mutate()}
            >
              Switch it off
            </Button>
          ) : (
            <Button variant="default" size="xs" loading={acts.begin.isPending} onClick={setUp}>
              Set it up…
            </Button>
          )}
        </Group>
      )}
      <Modal
        opened={open}
        onClose={dialog.close}
        title={acts.setUp.data ? 'Keep these codes' : 'Set up your device'}
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        {acts.setUp.data ? (
          <Recovery codes={acts.setUp.data.recovery} onDone={dialog.close} />
        ) : (
          acts.begin.data && <Device {...acts.begin.data} acts={acts} onClose={dialog.close} />
        )}
      </Modal>
    </>
  )
}

type Acts = ReturnType<typeof useSecondStepActs>

function Device({
  secret,
  picture,
  acts,
  onClose,
}: {
  secret: string
  picture: string
  acts: Acts
  onClose: () => void
}) {
  const [code, setCode] = useState('')
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        acts.setUp.mutate(code)
      }}
    >
      <Stack gap="sm">
        <Text size="sm">
          Read this with an authenticator on your phone, or type its secret there. Then type the
          code that it shows: from then on it is asked for after your password.
        </Text>
        <img
          src={picture}
          alt="The secret, for an authenticator to read"
          width={200}
          height={200}
        />
        <Secret text={(secret.match(/.{1,4}/g) ?? []).join(' ')} name="the secret" />
        <CodeField first code={code} onChange={setCode} />
        {acts.setUp.error && <Notice error={acts.setUp.error} />}
        <Group>
          <Button type="submit" loading={acts.setUp.isPending} disabled={!code.trim()}>
            Switch it on
          </Button>
          <Button variant="default" onClick={onClose}>
            Not now
          </Button>
        </Group>
      </Stack>
    </form>
  )
}

function Recovery({ codes, onDone }: { codes: string[]; onDone: () => void }) {
  return (
    <Stack gap="sm">
      <Text size="sm">
        Each lets you in once when your device is not at hand. They are shown now and never again:
        keep them where your password is not.
      </Text>
      <Secret text={codes.join(' ')} name="the codes" />
      <Group>
        <Button onClick={onDone}>I have kept them</Button>
      </Group>
    </Stack>
  )
}
