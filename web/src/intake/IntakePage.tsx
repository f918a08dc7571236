import { Button, Checkbox, Group, Loader, Select, Text, Title } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useEffect, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { ChartView } from '../chart/ChartView.tsx'
import { useKpis } from '../shared/kpis.ts'
import { Notice } from '../shared/Notice.tsx'
import { notifyUndoable } from '../shared/notifications.tsx'
import { counted } from '../shared/writing.ts'
import { Comparison, touched } from './Comparison.tsx'
import classes from './Intake.module.css'
import { Source } from './Source.tsx'
import { UnderWay } from './UnderWay.tsx'
import { FoundTable } from './understood/FoundTable.tsx'
import { KpiForm } from './understood/KpiForm.tsx'
import { Problems } from './understood/Problems.tsx'
import { SheetRows } from './understood/SheetRows.tsx'
import {
  type KpiChoice,
  type Mapping,
  type Mode,
  type Reading,
  type Uploaded,
  useBeingRead,
  useBringIn,
  useDropUpload,
  useReading,
  useUpload,
} from './understood/table.ts'
import { Ambiguous, AmbiguousNumbers, Goal, LeftOut, Understood } from './understood/Understood.tsx'
import { facts, inWords, saveWords } from './words.ts'

const ALL_LINES = { average: true, limits: true, target: true }

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
      {later !== null && (
        <Group mt="md">
          {beingRead.error ? (
            <Notice error={beingRead.error} />
          ) : (
            <>
              <Loader size="sm" aria-hidden />
              <Text role="status">
                This table takes a while to read. It is looked at here as soon as it has been.
              </Text>
            </>
          )}
          <Button size="xs" variant="default" onClick={giveUp}>
            {beingRead.error ? 'Use another table' : 'Stop reading it'}
          </Button>
        </Group>
      )}
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
        <div className={classes.notice}>
          <Notice error={reading.error} />
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
            <Button size="xs" variant="default" onClick={startOver}>
              Use another table
            </Button>
          </Group>
          <SheetRows rows={uploaded.sheet_rows} mapping={mapping} onChange={setMapping} />
        </div>
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
            <AmbiguousNumbers reading={read} mapping={mapping} onChange={setMapping} />
            <FoundTable reading={read} mapping={mapping} onChange={setMapping} />
            <SheetRows rows={read.sheet_rows} mapping={mapping} onChange={setMapping} />
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

interface OutcomeProps {
  read: Reading
  mapping: Mapping
  setMapping: (mapping: Mapping) => void
  into: string | null
  mode: Mode
  setMode: (mode: Mode) => void
  shown: string | null
  setShown: (key: string) => void
  save: () => void
  saving: boolean
  error: Error | null
}

/** The chart that will result, and how its points come about. */
function Outcome(props: OutcomeProps) {
  const { read, mapping, setMapping, into, mode, setMode, setShown, save, saving, error } = props
  const current = read.kpis.find((kpi) => kpi.key === read.shown)
  const wanted = read.kpis.filter((kpi) => kpi.choice.include)
  const blocked = read.problem_count > 0 && !mapping.leave_out
  const nameless = !into && wanted.some((kpi) => !(own(mapping, kpi.key).details?.name ?? kpi.name))
  const nothing = into
    ? !read.difference || touched(read.difference, mode) === 0
    : wanted.every((kpi) => kpi.value_count === 0)
  const set = (key: string, choice: KpiChoice) =>
    setMapping({
      ...mapping,
      kpis: { ...mapping.kpis, [key]: choice } as Mapping['kpis'],
    })
  return (
    <section className={classes.right} aria-label="The chart it will make">
      {read.kpis.length > 1 && (
        <ul className={classes.tabs} aria-label="KPIs in the table">
          {read.kpis.map((kpi) => (
            <li key={kpi.key} data-current={kpi.key === read.shown}>
              {!into && (
                <Checkbox
                  size="xs"
                  aria-label={`Bring in ${kpi.name || kpi.key}`}
                  checked={kpi.choice.include ?? true}
                  onChange={(event) =>
                    set(kpi.key, {
                      ...own(mapping, kpi.key),
                      include: event.currentTarget.checked,
                    })
                  }
                />
              )}
              <button
                type="button"
                aria-pressed={kpi.key === read.shown}
                onClick={() => {
                  setShown(kpi.key)
                  if (into) setMapping({ ...mapping, kpis: onlyThis(read, mapping, kpi.key) })
                }}
              >
                {own(mapping, kpi.key).details?.name ?? kpi.name ?? kpi.key}
              </button>
            </li>
          ))}
        </ul>
      )}
      {read.chart ? (
        <>
          <Text fw={600}>{read.chart.sentence.headline}</Text>
          <Text size="sm" c="dimmed" mb={2}>
            {capital(read.chart.basis)}. {read.chart.sentence.detail}
          </Text>
          <ChartView
            chart={read.chart}
            shown={ALL_LINES}
            height={300}
            changes={read.difference ?? null}
          />
        </>
      ) : (
        <Text c="dimmed">No row has both a date and a value yet.</Text>
      )}
      {current && (
        <KpiForm
          key={current.key}
          kpi={current}
          choice={own(mapping, current.key)}
          settled={into !== null}
          onChange={(choice) => set(current.key, choice)}
        />
      )}
      {read.difference && <Comparison difference={read.difference} mode={mode} onMode={setMode} />}
      {error && <Notice error={error} />}
      <div className={classes.save}>
        <Button disabled={blocked || nothing || nameless} loading={saving} onClick={save}>
          {saveWords(read, wanted.length, into, mode)}
        </Button>
        {blocked && (
          <Text size="sm" c="dimmed">
            Put right or leave out {counted(read.problem_count, 'row')} first.
          </Text>
        )}
        {nameless && (
          <Text size="sm" c="dimmed">
            Give every KPI a name first.
          </Text>
        )}
      </div>
    </section>
  )
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

function own(mapping: Mapping, key: string): KpiChoice {
  return (mapping.kpis?.[key] ?? {}) as KpiChoice
}

/** Into a KPI that is there goes one series: the one that is looked at. */
function onlyThis(read: Reading, mapping: Mapping, key: string): Mapping['kpis'] {
  return Object.fromEntries(
    read.kpis.map((kpi) => [kpi.key, { ...own(mapping, kpi.key), include: kpi.key === key }]),
  ) as Mapping['kpis']
}
