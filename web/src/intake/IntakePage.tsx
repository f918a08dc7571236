import { Button, Group, Loader, Text, Title } from '@mantine/core'
import { useEffect, useRef, useState } from 'react'
import { useParams } from 'react-router'
import { useKpis } from '../shared/kpis.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Intake.module.css'
import { LookedAt } from './LookedAt.tsx'
import { Source } from './Source.tsx'
import { UnderWay } from './UnderWay.tsx'
import {
  MOST_TRIES,
  type Uploaded,
  useBeingRead,
  useDropUpload,
  useUpload,
} from './understood/table.ts'

/** From a table to new KPIs, or into one that is there: understood, put right, then saved. */
export function IntakePage() {
  const { workspace = '', kpi } = useParams()
  return <Intake key={`${workspace} ${kpi}`} workspace={workspace} into={kpi ?? null} />
}

function Intake({ workspace, into }: { workspace: string; into: string | null }) {
  const kpis = useKpis(workspace)
  const goal = kpis.data?.find((one) => one.slug === into)
  const title = into ? `Add data to ${goal?.name ?? '…'}` : 'New KPI'
  const upload = useUpload(workspace, into)
  const drop = useDropUpload(workspace)
  const [uploaded, setUploaded] = useState<Uploaded | null>(null)
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
          {...{ workspace, into, uploaded }}
          onStartOver={startOver}
          onWaiting={setWaiting}
        />
      )}
      {!uploaded && (
        <Text c="dimmed" mb="md">
          {into
            ? 'Bring the newest table, whole or in part. You see what is new and what changed before anything is saved.'
            : 'Bring a table as it is. You see what was understood and the chart it makes before anything is saved.'}
        </Text>
      )}
      {!uploaded && later === null && <Source busy={upload.isPending} onTable={take} />}
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
