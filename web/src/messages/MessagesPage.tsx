import { Loader, Text, Title } from '@mantine/core'
import { useEffect } from 'react'
import { Link, useParams } from 'react-router'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { moment } from '../shared/writing.ts'
import { DigestForm } from './DigestForm.tsx'
import { Following } from './Following.tsx'
import classes from './Messages.module.css'
import { type Messages, TOPICS, useMessages } from './messages.ts'
import { Webhooks } from './Webhooks.tsx'
import { Wishes } from './Wishes.tsx'

/** What has happened that one wants to hear of, and how one is told. */
export function MessagesPage() {
  const { workspace = '' } = useParams()
  const messages = useMessages(workspace)
  const may = useMay()
  useEffect(() => {
    document.title = 'Messages · Fluctus'
  }, [])
  return (
    <div className={classes.page}>
      <Title order={1} size={25} mb={4}>
        Messages
      </Title>
      {messages.isPending && <Loader role="status" aria-label="Loading" />}
      {messages.error && !messages.data && (
        <Notice error={messages.error} retry={messages.refetch} />
      )}
      {messages.data && (
        <>
          <Told workspace={workspace} messages={messages.data} />
          <Wishes workspace={workspace} messages={messages.data} />
          <DigestForm workspace={workspace} messages={messages.data} />
          <Following workspace={workspace} followed={messages.data.followed} />
        </>
      )}
      {may.own && <Webhooks workspace={workspace} />}
    </div>
  )
}

function Told({ workspace, messages }: { workspace: string; messages: Messages }) {
  return (
    <section aria-labelledby="told">
      <Title order={2} size={18} id="told" mb={4}>
        What has happened
      </Title>
      {messages.told.length === 0 && (
        <Text c="dimmed">Nothing yet. New findings, late data and what is yours come here.</Text>
      )}
      <ul className={classes.told}>
        {messages.told.slice(0, 12).map((one) => (
          <li key={one.id}>
            <Link to={`/${workspace}${one.path}`}>{one.text}</Link>
            <span className="quiet">
              {TOPICS[one.topic]}, {moment(one.at)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
