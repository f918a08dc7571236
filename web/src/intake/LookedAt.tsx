import { Button, Group, Loader, Text } from '@mantine/core'
import { useDebouncedValue, useHotkeys, useStateHistory } from '@mantine/hooks'
import { useState } from 'react'
import { Link } from 'react-router'
import { FeedPlan } from '../feeds/FeedPlan.tsx'
import { EVERY_WEEKDAY } from '../feeds/feeds.ts'
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
  useReading,
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
import { useSave } from './useSave.ts'
import { facts } from './words.ts'

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
  const back = () => turns.back()
  const forward = () => turns.forward()
  useHotkeys([
    ['mod+Z', back],
    ['mod+shift+Z', forward],
    ['mod+Y', forward],
  ])

  const [plan, setPlan] = useState({
    name: feed?.name ?? '',
    schedule: EVERY_WEEKDAY,
    zone: mapping.time_zone ?? 'UTC',
  })
  const { save, saving, refused } = useSave({
    ...{ workspace, uploaded, feed, plan, mapping, into, mode, onWaiting },
    goal: Boolean(read?.goal),
  })

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
            saving={saving}
            error={refused}
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
