import { Button, Group } from '@mantine/core'
import { Link } from 'react-router'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Feeds.module.css'
import { type FeedRow, useFeedActs } from './feeds.ts'

/** What stopped a feed, in a sentence, and what can be done about it. */
export function Stopped({ feed, workspace }: { feed: FeedRow; workspace: string }) {
  const acts = useFeedActs(workspace, feed.id)
  const may = useMay()
  const busy = acts.decide.isPending || acts.change.isPending
  return (
    <div className={classes.stopped} role="alert">
      <p>
        <b>Stopped.</b> {feed.differs.join('. ')}.
        {feed.waits && ' Nothing of this table has been saved.'}
      </p>
      {may.edit && feed.waits && (
        <Group gap="xs">
          <Button size="xs" loading={busy} onClick={() => acts.decide.mutate('as_before')}>
            Read it as before
          </Button>
          <Button
            size="xs"
            variant="default"
            component={Link}
            to={`/${workspace}/feeds/${feed.id}/learn`}
          >
            Learn the new shape
          </Button>
          <Button
            size="xs"
            variant="default"
            disabled={busy}
            onClick={() => acts.decide.mutate('leave_out')}
          >
            Leave this one out
          </Button>
        </Group>
      )}
      {may.edit && !feed.waits && (
        <Button
          size="xs"
          loading={busy}
          onClick={() =>
            acts.change.mutate({ revision: feed.revision, take_over: true, paused: false })
          }
        >
          Take it over and go on
        </Button>
      )}
      {(acts.decide.error || acts.change.error) && (
        <Notice error={(acts.decide.error ?? acts.change.error) as Error} />
      )}
    </div>
  )
}
