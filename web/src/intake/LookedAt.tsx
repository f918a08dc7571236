import { Button, Group, Loader, Text } from '@mantine/core'
import { useDebouncedValue, useHotkeys, useStateHistory } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { FeedPlan } from '../feeds/FeedPlan.tsx'
import { EVERY_WEEKDAY } from '../feeds/feeds.ts'
import { notifyUndoable } from '../shared/notifications.tsx'
import { counted } from '../shared/writing.ts'
import classes from './Intake.module.css'
import { KeepReading } from './kept/KeepReading.tsx'
import { NotRead } from './NotRead.tsx'
import { Outcome } from './Outcome.tsx'
import { FoundTable } from './understood/FoundTable.tsx'
import { Problems } from './understood/Problems.tsx'
import { Sentences } from './understood/Sentences.tsx'
import { SheetRows } from './understood/SheetRows.tsx'
import {
  type Mapping,
  type Mode,
  type OfFeed,
  startingFrom,
  type Uploaded,
  useBringIn,
  useReading,
  useSaveFeed,
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

interface Props {
  workspace: string
  into: string | null
  uploaded: Uploaded
  /** The feed that it is of, where it fetches itself. */
  feed?: OfFeed | null
  onStartOver: () => void
  /** Its import goes on in the background, by this number. */
  onWaiting: (number: number) => void
}

/** A table that has come: what was understood of it, put right, and the chart it makes. */
export function LookedAt({ workspace, into, uploaded, feed, onStartOver, onWaiting }: Props) {
  const navigate = useNavigate()
  const [mapping, turns, { current, history }] = useStateHistory<Mapping>(
    startingFrom(uploaded.last as Mapping | null),
  )
  const setMapping = turns.set
  const [shown, setShown] = useState<string | null>(null)
  const [mode, setMode] = useState<Mode>('update')
  const [settled] = useDebouncedValue(mapping, 250)
  const asked = { workspace, upload: uploaded.id, mapping: settled, into, shown }
  const head = useReading({ ...asked, whole: false, enabled: true })
  const whole = useReading({ ...asked, whole: true, enabled: head.data?.of_head ?? false })
  const error = head.error ?? whole.error
  const read = error ? undefined : (head.data?.of_head && whole.data) || head.data
  const bringIn = useBringIn(workspace, uploaded.id)
  const back = () => turns.back()
  const forward = () => turns.forward()
  useHotkeys([
    ['mod+Z', back],
    ['mod+shift+Z', forward],
    ['mod+Y', forward],
  ])

  const ofFeed = useSaveFeed(workspace, uploaded.id)
  const [plan, setPlan] = useState({
    name: feed?.name ?? '',
    schedule: EVERY_WEEKDAY,
    zone: mapping.time_zone ?? 'UTC',
  })

  function save() {
    const opened = (number: number) => navigate(`/${workspace}/feeds/${number}`)
    if (feed && 'learns' in feed) {
      const onSuccess = () => opened(feed.learns)
      ofFeed.learn.mutate({ feed: feed.learns, mapping }, { onSuccess })
    } else if (feed) {
      const { name, schedule, zone } = plan
      ofFeed.setUp.mutate(
        { draft: feed.draft, mapping, name, schedule, time_zone: zone },
        {
          onSuccess: (made) => (made.under_way ? onWaiting(made.brought) : opened(made.feed)),
        },
      )
    } else bringTableIn()
  }

  function bringTableIn() {
    // By its promise: what asked for it may be gone by then, as the first hour is once there are KPIs.
    bringIn.mutateAsync({ mapping, into, mode }).then(broughtIn, () => undefined)
  }

  function broughtIn(made: Schemas['Import']) {
    if (made.status === 'waiting' || made.status === 'running') {
      onWaiting(made.id)
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
  }

  return (
    <>
      {read && (
        <Group gap="xs" mb="sm">
          <Text size="sm" c="dimmed">
            {facts(read, uploaded)}
          </Text>
          <button type="button" className={classes.link} onClick={onStartOver}>
            Use another table
          </button>
          {into && (
            <Link className={classes.link} to={`/${workspace}/charts/${into}`}>
              Back to the chart
            </Link>
          )}
        </Group>
      )}
      {head.isPending && <Looking says="Looking at the columns…" onStop={onStartOver} />}
      {read?.of_head && (
        <Looking
          says={`These are the first rows. Looking at all ${counted(read.whole, 'row')}…`}
          onStop={onStartOver}
        />
      )}
      {error && <NotRead {...{ error, uploaded, mapping, setMapping, onStartOver }} />}
      {read && (
        <div className={classes.split}>
          <div className={classes.left}>
            <Known uploaded={uploaded} onAfresh={() => setMapping(startingFrom(null))} />
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
            <Sentences
              reading={read}
              mapping={mapping}
              settled={into !== null}
              onChange={setMapping}
              undo={current > 0 ? back : undefined}
              redo={current < history.length - 1 ? forward : undefined}
            >
              <KeepReading {...{ workspace, uploaded, mapping }} />
            </Sentences>
            <FoundTable reading={read} mapping={mapping} onChange={setMapping} />
            <SheetRows rows={read.sheet_rows} mapping={mapping} onChange={setMapping} />
            <Remarks reading={read} />
            <LeftOut reading={read} mapping={mapping} onChange={setMapping} />
            <Problems reading={read} mapping={mapping} onChange={setMapping} />
          </div>
          <Outcome
            {...{ read, mapping, setMapping, into, mode, setMode, shown, setShown, save }}
            saving={bringIn.isPending || ofFeed.setUp.isPending || ofFeed.learn.isPending}
            error={bringIn.error ?? ofFeed.setUp.error ?? ofFeed.learn.error}
            saves={
              feed && ('learns' in feed ? 'Read it so from now on' : 'Save, and fetch by itself')
            }
          >
            {feed && 'draft' in feed && (
              <FeedPlan workspace={workspace} plan={plan} onChange={setPlan} />
            )}
          </Outcome>
        </div>
      )}
    </>
  )
}

function Looking({ says, onStop }: { says: string; onStop: () => void }) {
  return (
    <Group my="sm">
      <Loader size="sm" aria-hidden />
      <Text role="status" c="dimmed" size="sm">
        {says}
      </Text>
      <Button size="compact-xs" variant="default" onClick={onStop}>
        Stop
      </Button>
    </Group>
  )
}

/** By what a table was known again: the import before, or a reading that is kept. */
function Known({ uploaded, onAfresh }: { uploaded: Uploaded; onAfresh: () => void }) {
  const { last_import, recognized, differs } = uploaded
  if (!last_import && !recognized) return null
  return (
    <div className={classes.known} role="status">
      <p>
        {recognized ? (
          <>
            Read as <b>{recognized.name}</b>, {recognized.says}.
          </>
        ) : (
          `Read the way ${last_import} was.`
        )}{' '}
        <button type="button" className={classes.link} onClick={onAfresh}>
          Read it afresh
        </button>
      </p>
      {differs.length > 0 && (
        <ul aria-label="What differs">
          {differs.slice(0, 8).map((one) => (
            <li key={one}>{one}.</li>
          ))}
        </ul>
      )}
    </div>
  )
}
