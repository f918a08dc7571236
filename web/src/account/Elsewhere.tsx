import { Button, Group, Loader, Text, Title } from '@mantine/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useLocation } from 'react-router'
import { answer, client } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import { Notice } from '../shared/Notice.tsx'
import { useGoElsewhere, useSession } from '../shared/session.ts'
import { dayOf } from '../shared/writing.ts'
import { useElsewhere } from './own.ts'
import { Said } from './ThroughProvider.tsx'

/** How one may sign in through the provider of the organization, where there is one. */
export function Elsewhere() {
  const session = useSession()
  return session.data?.elsewhere ? <Connected said={session.data.said} /> : null
}

function Connected({ said }: { said: string }) {
  const queries = useQueryClient()
  const here = useLocation().pathname
  const known = useElsewhere()
  const there = { onSuccess: ({ address }: { address: string }) => window.location.assign(address) }
  const connect = useMutation({
    mutationFn: () => answer(client.POST('/api/v1/elsewhere', { body: { to: here } })),
    ...there,
  })
  const confirm = useGoElsewhere()
  const end = useMutation({
    mutationFn: () => answer(client.DELETE('/api/v1/elsewhere')),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.elsewhere }),
  })
  const error = known.error ?? connect.error ?? confirm.error ?? end.error
  return (
    <>
      <Title order={2} size={17} mt="xl" mb="xs">
        Signing in elsewhere
      </Title>
      {error && <Notice error={error} />}
      {said && <Said>{said}</Said>}
      {known.isPending && <Loader role="status" aria-label="Loading" />}
      {known.data && (
        <>
          <Text size="sm" mb="xs" maw={560}>
            {known.data.since
              ? `You sign in through ${known.data.provider}${known.data.called ? ` as ${known.data.called}` : ''}, since ${dayOf(known.data.since)}.`
              : `Connect your account, and you need no password here: ${known.data.provider} says who you are.`}
          </Text>
          <Group>
            {known.data.since ? (
              <>
                {!known.data.has_password && (
                  <Button
                    variant="default"
                    loading={confirm.isPending}
                    onClick={() => confirm.mutate({ to: here }, there)}
                  >
                    Say again who you are
                  </Button>
                )}
                <Button variant="default" loading={end.isPending} onClick={() => end.mutate()}>
                  Disconnect
                </Button>
              </>
            ) : (
              <Button
                variant="default"
                loading={connect.isPending}
                onClick={() => connect.mutate()}
              >
                Connect with {known.data.provider}
              </Button>
            )}
          </Group>
        </>
      )}
    </>
  )
}
