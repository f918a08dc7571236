import { Button, Group, Loader, Select, Text, TextInput, Title } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useEffect, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { Problem } from '../api/client.ts'
import { useKpis } from '../shared/kpis.ts'
import { Notice } from '../shared/Notice.tsx'
import { notifyUndoable } from '../shared/notifications.tsx'
import classes from './Intake.module.css'
import { Outcome } from './Outcome.tsx'
import { Source } from './Source.tsx'
import { UnderWay } from './UnderWay.tsx'
import { FoundTable } from './understood/FoundTable.tsx'
import { Problems } from './understood/Problems.tsx'
import { SheetRows } from './understood/SheetRows.tsx'
import { Steps } from './understood/Steps.tsx'
import {
  type Mapping,
  type Mode,
  type Uploaded,
  useBeingRead,
  useBringIn,
  useDropUpload,
  useReading,
  useUpload,
} from './understood/table.ts'
import {
  Ambiguous,
  AmbiguousNumbers,
  Goal,
  LeftOut,
  Questions,
  Remarks,
  ShareOffer,
  Understood,
} from './understood/Understood.tsx'
import { facts, inWords } from './words.ts'

/** From a table to new KPIs, or into one that is there: understood, put right, then saved. */
export function IntakePage() {
  const { workspace = '', kpi } = useParams()
  return <Intake key={`${workspace} ${kpi}`} workspace={workspace} into={kpi ?? null} />
}

function startingFrom(last: Mapping | null): Mapping {
  return last ?? { time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone }
}

// Long as one page: its parts in turn, with what they share.
function Intake({ workspace, into }: { workspace: string; into: string | null }) {
  const navigate = useNavigate()
  const kpis = useKpis(workspace)
  const goal = kpis.data?.find((one) => one.slug === into)
  const title = into ? `Add data to ${goal?.name ?? '…'}` : 'New KPI'
  const upload = useUpload(workspace, into)
  const drop = useDropUpload(workspace)
  const [uploaded, setUploaded] = useState<Uploaded | null>(null)
  const [later, setLater] = useState<number | null>(null)
  const beingRead = useBeingRead(workspace, later, into)
  const [mapping, setMapping] = useState<Mapping>(startingFrom(null))
  const [shown, setShown] = useState<string | null>(null)
  const [mode, setMode] = useState<Mode>('update')
  const [settled] = useDebouncedValue(mapping, 250)
  const reading = useReading(workspace, uploaded?.id ?? null, settled, into, shown)
  const bringIn = useBringIn(workspace, uploaded?.id ?? null)
  const [waiting, setWaiting] = useState<number | null>(null)
  const read = uploaded && !reading.error ? reading.data : undefined

  useEffect(() => {
    document.title = `${title} · Fluctus`
  }, [title])

  function take(table: { text?: string; file?: File }) {
    bringIn.reset()
    upload.mutate(table, {
      onSuccess: (made) => (made.being_read ? setLater(made.id) : look(made)),
    })
  }

  function look(table: Uploaded) {
    setLater(null)
    setUploaded(table)
    setMapping(startingFrom(table.last as Mapping | null))
    setShown(null)
  }

  // biome-ignore lint/correctness/useExhaustiveDependencies: once the table has been read
  useEffect(() => {
    if (beingRead.data?.being_read === false) look(beingRead.data)
  }, [beingRead.data])

  function giveUp() {
    if (later !== null && !beingRead.error) drop.mutate(later)
    setLater(null)
  }

  function startOver() {
    if (uploaded) drop.mutate(uploaded.id)
    setUploaded(null)
    upload.reset()
    bringIn.reset()
  }

  function save() {
    bringIn.mutate(
      { mapping, into, mode },
      {
        onSuccess: (made) => {
          if (made.status === 'waiting' || made.status === 'running') {
            setWaiting(made.id)
            return
          }
          const [first] = made.parts
          const names = made.parts.map((part) => part.name).join(', ')
          const query = made.parts.map(({ slug }) => `kpi=${slug}`).join('&')
          if (!into && made.parts.length > 1)
            notifyUndoable(
              `${names}: saved.`,
              () => navigate(`/${workspace}/compare/goal?${query}`),
              'Compare them',
            )
          else
            notifications.show({
              message: into ? inWords(made.parts[0]?.counts) : `${names}: saved.`,
              autoClose: 5000,
            })
          // People with a goal are looked at beside each other, in one step.
          const withGoal = !into && read?.goal && made.parts.length === 1
          if (first?.slug)
            navigate(
              withGoal
                ? `/${workspace}/compare/parts?plot=one&weeks=all&${query}`
                : `/${workspace}/charts/${first.slug}`,
            )
        },
      },
    )
  }

  if (waiting !== null) return <UnderWay workspace={workspace} number={waiting} title={title} />

  return (
    <div className={classes.page}>
      <Title order={1} size={25} mb={4}>
        {title}
      </Title>
      {uploaded && read ? (
        <Group gap="xs" mb="sm">
          <Text size="sm" c="dimmed">
            {facts(read, uploaded)}
          </Text>
          <button type="button" className={classes.link} onClick={startOver}>
            Use another table
          </button>
          {into && (
            <Link className={classes.link} to={`/${workspace}/charts/${into}`}>
              Back to the chart
            </Link>
          )}
        </Group>
      ) : (
        <Text c="dimmed" mb="md">
          {into
            ? 'Bring the newest table, whole or in part. You see what is new and what changed before anything is saved.'
            : 'Bring a table as it is. You see what was understood and the chart it makes before anything is saved.'}
        </Text>
      )}
      {!uploaded && later === null && <Source busy={upload.isPending} onTable={take} />}
      {upload.isPending && (
        <Text role="status" mt="md" c="dimmed">
          Reading the table…
        </Text>
      )}
      {later !== null && <ReadLater error={beingRead.error} onGiveUp={giveUp} />}
      {upload.error && (
        <div className={classes.notice}>
          <Notice error={upload.error} />
        </div>
      )}
      {uploaded && reading.isPending && (
        <Group mt="md">
          <Loader size="sm" aria-hidden />
          <Text role="status" c="dimmed">
            Looking at the columns…
          </Text>
        </Group>
      )}
      {uploaded && reading.error && (
        <NotRead
          error={reading.error}
          {...{ uploaded, mapping, setMapping }}
          onStartOver={startOver}
        />
      )}
      {read && (
        <div className={classes.split}>
          <div className={classes.left}>
            {uploaded?.last_import && (
              <Text size="sm" mb={6} role="status">
                Read the way {uploaded.last_import} was.{' '}
                <button
                  type="button"
                  className={classes.link}
                  onClick={() => setMapping(startingFrom(null))}
                >
                  Read it afresh
                </button>
              </Text>
            )}
            <Understood
              reading={read}
              mapping={mapping}
              settled={into !== null}
              onChange={setMapping}
            />
            <Ambiguous reading={read} mapping={mapping} onChange={setMapping} />
            <Goal reading={read} />
            <ShareOffer reading={read} mapping={mapping} onChange={setMapping} />
            <AmbiguousNumbers reading={read} mapping={mapping} onChange={setMapping} />
            <Questions reading={read} mapping={mapping} onChange={setMapping} />
            <Steps reading={read} mapping={mapping} onChange={setMapping} />
            <FoundTable reading={read} mapping={mapping} onChange={setMapping} />
            <SheetRows rows={read.sheet_rows} mapping={mapping} onChange={setMapping} />
            <Remarks reading={read} />
            <LeftOut reading={read} mapping={mapping} onChange={setMapping} />
            <Problems reading={read} mapping={mapping} onChange={setMapping} />
          </div>
          <Outcome
            {...{ read, mapping, setMapping, into, mode, setMode, shown, setShown, save }}
            saving={bringIn.isPending}
            error={bringIn.error}
          />
        </div>
      )}
    </div>
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

function asksForPeriod(error: Error): boolean {
  return error instanceof Problem && error.issues.some(({ field }) => field === 'period')
}

/** The period of a table that has no dates, asked for once. */
function ForPeriod({
  mapping,
  onChange,
}: {
  mapping: Mapping
  onChange: (mapping: Mapping) => void
}) {
  const [period, setPeriod] = useState(mapping.period ?? '')
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (period.trim()) onChange({ ...mapping, period: period.trim() })
      }}
    >
      <Group mt="sm" align="end">
        <TextInput
          size="xs"
          label="For which period is this table?"
          placeholder="2026-05, or 18 May 2026"
          maxLength={60}
          value={period}
          onChange={(event) => setPeriod(event.currentTarget.value)}
        />
        <Button size="xs" type="submit" disabled={!period.trim()}>
          Read it for that period
        </Button>
      </Group>
    </form>
  )
}

interface NotReadProps {
  error: Error
  uploaded: Uploaded
  mapping: Mapping
  setMapping: (mapping: Mapping) => void
  onStartOver: () => void
}

/** What can be done about a table that could not be read as it was told. */
function NotRead({ error, uploaded, mapping, setMapping, onStartOver }: NotReadProps) {
  return (
    <div className={classes.notice}>
      <Notice error={error} />
      {asksForPeriod(error) && <ForPeriod mapping={mapping} onChange={setMapping} />}
      <Group mt="sm">
        {uploaded.sheets.length > 1 && (
          <Select
            size="xs"
            aria-label="Sheet"
            placeholder="Another sheet"
            data={uploaded.sheets}
            value={mapping.sheet ?? null}
            onChange={(sheet) => setMapping({ ...startingFrom(null), sheet })}
          />
        )}
        <Button size="xs" variant="default" onClick={() => setMapping(startingFrom(null))}>
          Read it as it looks
        </Button>
        <Button size="xs" variant="default" onClick={onStartOver}>
          Use another table
        </Button>
      </Group>
      <SheetRows rows={uploaded.sheet_rows} mapping={mapping} onChange={setMapping} />
    </div>
  )
}
