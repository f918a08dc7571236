import { Button, Group, Loader, Modal, Text, TextInput, Title } from '@mantine/core'
import { useEffect, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { notifyProblem } from '../shared/notifications.tsx'
import classes from './Feeds.module.css'
import { Fetches } from './Fetches.tsx'
import { type FeedDetails, useFeed, useFeedActs } from './feeds.ts'
import { momentIn, Plan } from './Plan.tsx'
import { Stopped } from './Stopped.tsx'
import { WhereFrom } from './WhereFrom.tsx'

/** A feed: what it does, how fresh its KPIs are, and what came of its last fetches. */
export function FeedPage() {
  const { workspace = '', feed = '' } = useParams()
  const found = useFeed(workspace, Number(feed))
  const name = found.data?.feed.name
  useEffect(() => {
    document.title = `${name ?? 'Feed'} · Fluctus`
  }, [name])
  return (
    <div className={classes.page}>
      <Link className={classes.link} to={`/${workspace}/data`}>
        Data
      </Link>
      {found.isPending && <Loader role="status" aria-label="Loading" />}
      {found.error && !found.data && <Notice error={found.error} retry={found.refetch} />}
      {found.data && <Feed details={found.data} workspace={workspace} />}
    </div>
  )
}

function Feed({ details, workspace }: { details: FeedDetails; workspace: string }) {
  const { feed } = details
  return (
    <>
      <Title order={1} size={25} mb={4}>
        {feed.name}
      </Title>
      <Text>{feed.says}.</Text>
      <Text size="sm" c="dimmed" mb="sm">
        {feed.state === 'paused' && 'Paused. '}
        {feed.next_at && `Next ${momentIn(feed.next_at, details.time_zone)}. `}
        In the name of {feed.owner || 'nobody'}.
      </Text>
      {feed.state === 'stopped' && <Stopped feed={feed} workspace={workspace} />}
      <Acts {...{ details, workspace }} />
      <Title order={2} size={18} mt="lg">
        What it feeds
      </Title>
      <ul className={classes.kpis}>
        {feed.kpis.map((kpi) => (
          <li key={kpi.slug}>
            <Link className={classes.link} to={`/${workspace}/charts/${kpi.slug}`}>
              {kpi.name}
            </Link>{' '}
            <span className="quiet">
              {kpi.newest ? `newest value ${kpi.newest}` : 'no value yet'}
              {kpi.late && ', the next one is late'}
            </span>
          </li>
        ))}
      </ul>
      <Fetches {...{ details, workspace }} />
    </>
  )
}

type Card = 'plan' | 'where' | 'remove' | null

function Acts({ details, workspace }: { details: FeedDetails; workspace: string }) {
  const { feed } = details
  const may = useMay()
  const acts = useFeedActs(workspace, feed.id)
  const [card, setCard] = useState<Card>(null)
  const navigate = useNavigate()
  const close = () => setCard(null)
  const pause = () =>
    acts.change.mutate(
      { revision: feed.revision, paused: feed.state === 'on' },
      { onError: notifyProblem },
    )
  return (
    <Group gap="xs">
      {may.add &&
        (feed.fetching ? (
          <Button variant="default" onClick={() => acts.stop.mutate()}>
            Stop fetching
          </Button>
        ) : (
          <Button
            loading={acts.fetchNow.isPending}
            disabled={feed.waits}
            onClick={() => acts.fetchNow.mutate(undefined, { onError: notifyProblem })}
          >
            Fetch now
          </Button>
        ))}
      {may.edit && (
        <>
          {feed.state !== 'stopped' && (
            <Button variant="default" onClick={pause}>
              {feed.state === 'on' ? 'Pause' : 'Go on'}
            </Button>
          )}
          <Button variant="default" onClick={() => setCard('plan')}>
            Name and times
          </Button>
          <Button variant="default" onClick={() => setCard('where')}>
            Where from
          </Button>
          <Button variant="default" onClick={() => setCard('remove')}>
            Remove
          </Button>
        </>
      )}
      <Modal
        opened={card === 'plan'}
        onClose={close}
        title="Name and times"
        size="lg"
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        {card === 'plan' && <Times {...{ details, workspace }} onDone={close} />}
      </Modal>
      <Modal
        opened={card === 'where'}
        onClose={close}
        title="Where it fetches from"
        size="xl"
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        {card === 'where' && (
          <WhereFrom
            workspace={workspace}
            feed={{ id: feed.id, source: feed.source, options: details.options }}
            onLooked={({ draft }) =>
              acts.change.mutate(
                { revision: feed.revision, draft },
                { onSuccess: close, onError: notifyProblem },
              )
            }
          />
        )}
      </Modal>
      <Modal
        opened={card === 'remove'}
        onClose={close}
        title={`Remove ${feed.name}?`}
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        <Text size="sm" mb="sm">
          It fetches no more. The values that it has brought stay, and each fetch can still be
          undone under Data.
        </Text>
        <Button
          color="signal"
          variant="outline"
          loading={acts.remove.isPending}
          onClick={() =>
            acts.remove.mutate(undefined, {
              onSuccess: () => navigate(`/${workspace}/data`),
              onError: notifyProblem,
            })
          }
        >
          Remove this feed
        </Button>
      </Modal>
    </Group>
  )
}

interface TimesProps {
  details: FeedDetails
  workspace: string
  onDone: () => void
}

function Times({ details, workspace, onDone }: TimesProps) {
  const { feed } = details
  const acts = useFeedActs(workspace, feed.id)
  const [name, setName] = useState(feed.name)
  const [plan, setPlan] = useState({ schedule: details.schedule, zone: details.time_zone })
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        acts.change.mutate(
          { revision: feed.revision, name, schedule: plan.schedule, time_zone: plan.zone },
          { onSuccess: onDone },
        )
      }}
    >
      <TextInput
        label="Name"
        maxLength={80}
        value={name}
        onChange={({ currentTarget }) => setName(currentTarget.value)}
        mb="sm"
      />
      <Plan
        workspace={workspace}
        {...plan}
        onChange={(schedule, zone) => setPlan({ schedule, zone })}
      />
      {acts.change.error && <Notice error={acts.change.error} />}
      <Button type="submit" mt="md" loading={acts.change.isPending} disabled={!name.trim()}>
        Save
      </Button>
    </form>
  )
}
