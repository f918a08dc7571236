import { Button, Group, Loader, Text, Title } from '@mantine/core'
import { type ReactNode, useEffect, useRef, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import type { LookedAtFeed } from '../feeds/feeds.ts'
import { useKpis } from '../shared/kpis.ts'
import { LittleRoom } from '../shared/LittleRoom.tsx'
import { Notice } from '../shared/Notice.tsx'
import classes from './Intake.module.css'
import { LookedAt } from './LookedAt.tsx'
import { Source } from './Source.tsx'
import { UnderWay } from './UnderWay.tsx'
import {
  MOST_TRIES,
  type OfFeed,
  type Uploaded,
  useBeingRead,
  useDropUpload,
  useHeld,
  useUpload,
} from './understood/table.ts'

/** From a table to new KPIs, or into one that is there: understood, put right, then saved. */
export function IntakePage() {
  const { workspace = '', kpi } = useParams()
  return <Intake key={`${workspace} ${kpi}`} workspace={workspace} into={kpi ?? null} />
}

/** The table of a feed that has another shape now: how it and those after it are read. */
export function LearnPage() {
  const { workspace = '', feed = '' } = useParams()
  const held = useHeld(workspace, Number(feed))
  const navigate = useNavigate()
  useEffect(() => {
    document.title = 'Learn the new shape · Fluctus'
  }, [])
  return (
    <div className={classes.page}>
      <Title order={1} size={25} mb={4}>
        Learn the new shape
      </Title>
      {held.isPending && <Loader role="status" aria-label="Loading" />}
      {held.error && <Notice error={held.error} />}
      {held.data && (
        <LookedAt
          {...{ workspace, into: null, uploaded: held.data }}
          feed={{ learns: Number(feed), name: '' }}
          onStartOver={() => navigate(`/${workspace}/feeds/${feed}`)}
          onWaiting={() => navigate(`/${workspace}/feeds/${feed}`)}
        />
      )}
    </div>
  )
}

interface Props {
  workspace: string
  /** The KPI that the table goes into; null: new ones are made. */
  into: string | null
  title?: string
  /** What stands beside the box while there is no table yet, and may give one. */
  beside?: (take: (text: string) => void, busy: boolean) => ReactNode
}

/** A table from its source to what is saved. */
export function Intake({ workspace, into, title: given, beside }: Props) {
  const kpis = useKpis(workspace)
  const goal = kpis.data?.find((one) => one.slug === into)
  const title = given ?? (into ? `Add data to ${goal?.name ?? '…'}` : 'New KPI')
  const upload = useUpload(workspace, into)
  const drop = useDropUpload(workspace)
  const [uploaded, setUploaded] = useState<Uploaded | null>(null)
  const [feed, setFeed] = useState<OfFeed | null>(null)
  const [later, setLater] = useState<number | null>(null)
  const beingRead = useBeingRead(workspace, later, into)
  const [waiting, setWaiting] = useState<number | null>(null)
  const sending = useRef<AbortController | null>(null)

  useEffect(() => {
    document.title = `${title} · Fluctus`
  }, [title])

  function take(table: { text?: string; file?: File }) {
    sending.current = new AbortController()
    upload.mutate(
      { ...table, signal: sending.current.signal },
      { onSuccess: (made) => (made.being_read ? setLater(made.id) : look(made)) },
    )
  }

  function look(table: Uploaded) {
    setLater(null)
    setUploaded(table)
  }

  function lookAtFeed({ draft, name, uploaded: table }: LookedAtFeed) {
    setFeed({ draft, name })
    look(table)
  }

  // biome-ignore lint/correctness/useExhaustiveDependencies: once the table has been read
  useEffect(() => {
    if (beingRead.data?.being_read === false) look(beingRead.data)
  }, [beingRead.data])

  function stopSending() {
    sending.current?.abort()
    upload.reset()
  }

  function giveUp() {
    if (later !== null && !beingRead.error) drop.mutate(later)
    setLater(null)
  }

  function startOver() {
    if (uploaded) drop.mutate(uploaded.id)
    setUploaded(null)
    setFeed(null)
    upload.reset()
  }

  if (waiting !== null) return <UnderWay workspace={workspace} number={waiting} title={title} />

  return (
    <div className={classes.page}>
      <Title order={1} size={25} mb={4}>
        {title}
      </Title>
      {uploaded && (
        <LookedAt
          key={uploaded.id}
          {...{ workspace, into, uploaded, feed }}
          onStartOver={startOver}
          onWaiting={setWaiting}
        />
      )}
      <LittleRoom workspace={workspace} />
      {!uploaded && (
        <Text c="dimmed" mb="md">
          {into
            ? 'Bring the newest table, whole or in part. You see what is new and what changed before anything is saved.'
            : 'Bring a table as it is. You see what was understood and the chart it makes before anything is saved.'}
        </Text>
      )}
      {!uploaded && later === null && (
        <div className={beside ? classes.beside : ''}>
          <Source
            workspace={workspace}
            busy={upload.isPending}
            onTable={take}
            onLooked={into ? null : lookAtFeed}
          />
          {beside?.((text) => take({ text }), upload.isPending)}
        </div>
      )}
      {upload.isPending && <Sending tries={upload.failureCount} onStop={stopSending} />}
      {later !== null && <ReadLater error={beingRead.error} onGiveUp={giveUp} />}
      {upload.error && (
        <div className={classes.notice}>
          <Notice error={upload.error} />
        </div>
      )}
    </div>
  )
}

/** Says that a table is on its way, or sent again where no answer came, and offers to stop. */
function Sending({ tries, onStop }: { tries: number; onStop: () => void }) {
  return (
    <Group mt="md">
      <Loader size="sm" aria-hidden />
      <Text role="status" c="dimmed">
        {tries === 0
          ? 'Reading the table…'
          : `No answer came. The table is sent again (${tries} of ${MOST_TRIES})…`}
      </Text>
      <Button size="xs" variant="default" onClick={onStop}>
        Stop
      </Button>
    </Group>
  )
}

/** Says that a table is being read in the background, and offers to stop that. */
function ReadLater({ error, onGiveUp }: { error: Error | null; onGiveUp: () => void }) {
  return (
    <Group mt="md">
      {error ? (
        <Notice error={error} />
      ) : (
        <>
          <Loader size="sm" aria-hidden />
          <Text role="status">
            This table takes a while to read. It is looked at here as soon as it has been.
          </Text>
        </>
      )}
      <Button size="xs" variant="default" onClick={onGiveUp}>
        {error ? 'Use another table' : 'Stop reading it'}
      </Button>
    </Group>
  )
}
