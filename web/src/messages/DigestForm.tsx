import { Button, Checkbox, Group, Modal, Text, Title } from '@mantine/core'
import { useState } from 'react'
import { momentIn, Plan } from '../feeds/Plan.tsx'
import { Notice } from '../shared/Notice.tsx'
import { type Messages, useLetter, useMessageActs } from './messages.ts'

/** Where the digest goes and when it is next, or why it does not come. */
function comes({ digest, mail }: Messages): string {
  if (digest.refused) {
    return `Mail has stopped: the server of ${mail || 'your address'} refuses it (${digest.refused}). Once it takes mail again, clear the box below.`
  }
  if (digest.no_mail) return 'You get no mail of this workspace.'
  if (!mail) {
    return 'No mail goes out here: this installation sends none, or your account has no address.'
  }
  const next = momentIn(digest.next_at, digest.time_zone)
  return `To ${mail}. Next ${next}, if there is anything to tell.`
}

/** When the digest comes, and what would be in it now. */
export function DigestForm({ workspace, messages }: { workspace: string; messages: Messages }) {
  const { digest } = messages
  const acts = useMessageActs(workspace)
  const [reading, setReading] = useState(false)
  const { when: _, next_at: __, refused: ___, ...kept } = digest
  const keep = (change: Partial<typeof kept>) => acts.digest.mutate({ ...kept, ...change })
  return (
    <section aria-labelledby="digest">
      <Title order={2} size={18} id="digest" mt="xl" mb={4}>
        The digest
      </Title>
      <Text size="sm" c="dimmed" mb="xs">
        {comes(messages)}
      </Text>
      <Plan
        workspace={workspace}
        schedule={digest.schedule}
        zone={digest.time_zone}
        only={['day', 'weekday', 'week']}
        onChange={(schedule, time_zone) => keep({ schedule, time_zone })}
      />
      <Checkbox
        mt="sm"
        label="Send it even if there is nothing to tell"
        checked={digest.even_if_nothing}
        onChange={({ currentTarget }) => keep({ even_if_nothing: currentTarget.checked })}
      />
      <Checkbox
        mt="xs"
        label="No mail of this workspace at all"
        checked={digest.no_mail}
        onChange={({ currentTarget }) => keep({ no_mail: currentTarget.checked })}
      />
      <Group mt="sm">
        <Button variant="default" onClick={() => setReading(true)}>
          Read it as it would be now
        </Button>
      </Group>
      <Modal
        opened={reading}
        onClose={() => setReading(false)}
        title="The digest as it would be now"
        size="lg"
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        <LetterShown workspace={workspace} />
      </Modal>
    </section>
  )
}

function LetterShown({ workspace }: { workspace: string }) {
  const letter = useLetter(workspace, true)
  if (letter.error) return <Notice error={letter.error} retry={letter.refetch} />
  if (!letter.data) return <Text role="status">Writing it…</Text>
  return (
    <>
      <Text fw={600}>{letter.data.subject}</Text>
      {!letter.data.sends && (
        <Text size="sm" c="dimmed">
          There is nothing to tell, so it would not be sent.
        </Text>
      )}
      <Text size="sm" mt="sm" style={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>
        {letter.data.text}
      </Text>
    </>
  )
}
