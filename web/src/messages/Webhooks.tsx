import { Button, Checkbox, Group, Modal, Text, TextInput, Title } from '@mantine/core'
import { useState } from 'react'
import { Secret } from '../account/Secret.tsx'
import { Notice } from '../shared/Notice.tsx'
import { moment } from '../shared/writing.ts'
import classes from './Messages.module.css'
import { TOPICS, type Topic, useWebhookActs, useWebhooks, type Webhook } from './messages.ts'

/** The addresses that are told of what happens in the workspace, with what was sent to each. */
export function Webhooks({ workspace }: { workspace: string }) {
  const hooks = useWebhooks(workspace)
  const [making, setMaking] = useState(false)
  return (
    <section aria-labelledby="webhooks">
      <Group justify="space-between" mt="xl" mb={4}>
        <Title order={2} size={18} id="webhooks">
          Webhooks
        </Title>
        <Button size="xs" variant="default" onClick={() => setMaking(true)}>
          Make a webhook
        </Button>
      </Group>
      <Text size="sm" c="dimmed" mb="xs">
        Each is sent what happens as a CloudEvent, signed with a secret of its own: the header
        Fluctus-Signature is the HMAC-SHA256 of Fluctus-Time, a full stop, and the body.
      </Text>
      {hooks.error && <Notice error={hooks.error} retry={hooks.refetch} />}
      {hooks.data?.length === 0 && <Text size="sm">There is none.</Text>}
      {hooks.data?.map((hook) => (
        <WebhookCard key={hook.id} hook={hook} workspace={workspace} />
      ))}
      <Modal
        opened={making}
        onClose={() => setMaking(false)}
        title="Make a webhook"
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        {making && <NewWebhook workspace={workspace} onDone={() => setMaking(false)} />}
      </Modal>
    </section>
  )
}

const STATES = { waiting: 'waits', sent: 'sent', abandoned: 'given up' }

function WebhookCard({ hook, workspace }: { hook: Webhook; workspace: string }) {
  const acts = useWebhookActs(workspace)
  return (
    <article className={`card ${classes.hook}`}>
      <b>{hook.name}</b> <span className="quiet">{hook.address}</span>
      <Text size="sm">{hook.topics.map((topic) => TOPICS[topic]).join(', ')}</Text>
      {hook.ended && <Text size="sm">Ended. {hook.ended} Try it to go on.</Text>}
      <Group gap="xs" mt={6}>
        <Button size="compact-xs" variant="default" onClick={() => acts.test.mutate(hook.id)}>
          Try it
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => acts.remove.mutate(hook.id)}>
          Remove
        </Button>
      </Group>
      <ul className={classes.told}>
        {hook.deliveries.slice(0, 8).map((one) => (
          <li key={one.id}>
            <span>{one.what}</span>
            <span className="quiet">
              {moment(one.at)}, {STATES[one.state]}
              {one.tries > 1 && ` after ${one.tries} tries`}. {one.answer}
            </span>
            {one.state !== 'waiting' && (
              <Button size="compact-xs" variant="subtle" onClick={() => acts.again.mutate(one.id)}>
                Send again
              </Button>
            )}
          </li>
        ))}
      </ul>
    </article>
  )
}

function NewWebhook({ workspace, onDone }: { workspace: string; onDone: () => void }) {
  const { make } = useWebhookActs(workspace)
  const [name, setName] = useState('')
  const [address, setAddress] = useState('')
  const [topics, setTopics] = useState<Topic[]>(['beyond_limits', 'shift'])
  if (make.data) {
    return (
      <>
        <Text size="sm" mb="xs">
          Its messages are signed with this secret, which is shown only now:
        </Text>
        <Secret text={make.data.secret} name="the secret" />
        <Button mt="md" onClick={onDone}>
          Done
        </Button>
      </>
    )
  }
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        make.mutate({ name, address, topics })
      }}
    >
      <TextInput
        label="Name"
        maxLength={80}
        value={name}
        onChange={({ currentTarget }) => setName(currentTarget.value)}
      />
      <TextInput
        label="Address"
        placeholder="https://"
        mt="xs"
        value={address}
        onChange={({ currentTarget }) => setAddress(currentTarget.value)}
      />
      <Checkbox.Group
        label="What it is told"
        mt="sm"
        value={topics}
        onChange={(values) => setTopics(values as Topic[])}
      >
        {(Object.keys(TOPICS) as Topic[])
          .filter((topic) => topic !== 'yours' && topic !== 'due')
          .map((topic) => (
            <Checkbox key={topic} mt={6} value={topic} label={TOPICS[topic]} />
          ))}
      </Checkbox.Group>
      {make.error && <Notice error={make.error} />}
      <Button
        type="submit"
        mt="md"
        loading={make.isPending}
        disabled={!name.trim() || !address.trim() || topics.length === 0}
      >
        Make it
      </Button>
    </form>
  )
}
