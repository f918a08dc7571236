import { Button, Group, Text, Title } from '@mantine/core'
import { Secret } from '../account/Secret.tsx'
import { useFollowing } from './messages.ts'

/** Addresses for a feed reader and a calendar, which open nothing else. */
export function Following({ workspace, followed }: { workspace: string; followed: boolean }) {
  const { make, revoke } = useFollowing(workspace)
  return (
    <section aria-labelledby="following">
      <Title order={2} size={18} id="following" mt="xl" mb={4}>
        Followed from elsewhere
      </Title>
      <Text size="sm" c="dimmed" mb="xs">
        A feed reader can follow the findings, a calendar the events, by addresses that need no
        sign-in and open nothing else.
      </Text>
      {make.data && (
        <div>
          <Text size="sm">They are shown only now. Findings, as Atom:</Text>
          <Secret text={make.data.findings} name="the address" />
          <Text size="sm" mt={6}>
            Events, as iCalendar:
          </Text>
          <Secret text={make.data.events} name="the address" />
        </div>
      )}
      <Group gap="xs" mt="xs">
        <Button variant="default" loading={make.isPending} onClick={() => make.mutate()}>
          {followed ? 'Make other addresses' : 'Make the addresses'}
        </Button>
        {followed && (
          <Button
            variant="default"
            loading={revoke.isPending}
            onClick={() => revoke.mutate(undefined, { onSuccess: () => make.reset() })}
          >
            Revoke them
          </Button>
        )}
      </Group>
    </section>
  )
}
