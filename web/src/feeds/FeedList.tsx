import { Loader, Text, Title } from '@mantine/core'
import { Link } from 'react-router'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Feeds.module.css'
import { type FeedRow, useFeeds } from './feeds.ts'
import { Stopped } from './Stopped.tsx'

/** The feeds of a workspace, each a line of text that can be read aloud. */
export function FeedList({ workspace }: { workspace: string }) {
  const feeds = useFeeds(workspace)
  const may = useMay()
  return (
    <section aria-labelledby="feeds">
      <Title order={2} size={18} id="feeds" mb={4}>
        Feeds
      </Title>
      {feeds.isPending && <Loader size="sm" role="status" aria-label="Loading" />}
      {feeds.error && <Notice error={feeds.error} retry={feeds.refetch} />}
      {feeds.data?.length === 0 && (
        <Text c="dimmed" size="sm">
          No table fetches itself yet.{' '}
          {may.edit && 'Bring one in from an address, a database or a folder, and say when.'}
        </Text>
      )}
      <ul className={classes.list}>
        {feeds.data?.map((feed) => (
          <li key={feed.id} className="card">
            <Line feed={feed} workspace={workspace} />
          </li>
        ))}
      </ul>
    </section>
  )
}

function Line({ feed, workspace }: { feed: FeedRow; workspace: string }) {
  return (
    <>
      <p className={classes.line}>
        <Link className={classes.link} to={`/${workspace}/feeds/${feed.id}`}>
          {feed.name}
        </Link>
        {feed.state === 'paused' && ' (paused)'}
      </p>
      <Text size="sm" c="dimmed">
        {feed.says}.
      </Text>
      {feed.state === 'stopped' && <Stopped feed={feed} workspace={workspace} />}
    </>
  )
}
