import { Button, Group, Loader, Table, TextInput, Title } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useEffect, useState } from 'react'
import { Notice } from '../shared/Notice.tsx'
import { counted, moment } from '../shared/writing.ts'
import {
  type Condition,
  type Holder,
  size,
  useCondition,
  useConditionActs,
  waited,
} from './condition.ts'
import classes from './Installation.module.css'
import { RoomOf } from './RoomOf.tsx'

/** How the installation is: what runs, what waits and has failed, what is slow, who takes room. */
export function ConditionPage() {
  const [named, setNamed] = useState('')
  const [asked] = useDebouncedValue(named.trim(), 250)
  const condition = useCondition(asked)
  const [giving, setGiving] = useState<string | null>(null)
  useEffect(() => {
    document.title = 'How it is · Fluctus'
  }, [])
  const { data } = condition
  return (
    <div className={classes.page}>
      <Title order={1} size={25} mb={4}>
        How it is
      </Title>
      <p className="quiet">
        This installation, for who sees to it. Nothing here tells of anybody’s data.
      </p>
      {condition.isPending && <Loader role="status" aria-label="Loading" />}
      {condition.error && <Notice error={condition.error} retry={condition.refetch} />}
      {data && (
        <>
          <State condition={data} />
          <Waiting condition={data} />
          <FailedWork condition={data} />
          <Slow condition={data} />
          <Head>Who takes room</Head>
          <Group justify="space-between" align="end" mb="xs">
            <span>
              {counted(data.workspaces, 'workspace')}; values and their blocks take{' '}
              {size(data.value_bytes)} of the {size(data.database_bytes)} of the database.
            </span>
            <TextInput
              size="xs"
              label="Workspaces named"
              value={named}
              onChange={(event) => setNamed(event.currentTarget.value)}
            />
          </Group>
          <Holders holders={data.holders} onRoom={setGiving} />
          <RoomOf
            holder={data.holders.find(({ slug }) => slug === giving)}
            onClose={() => setGiving(null)}
          />
        </>
      )}
    </div>
  )
}

function Head({ children }: { children: string }) {
  return (
    <Title order={2} size={17} mt="xl" mb={6}>
      {children}
    </Title>
  )
}

/** What runs, in sentences; what wants somebody stands out by its word as well as its weight. */
function State({ condition }: { condition: Condition }) {
  const { versions, workers, backup } = condition
  return (
    <ul className={classes.state}>
      <li>
        Fluctus {versions.fluctus}, on Python {versions.python}, Django {versions.django} and
        PostgreSQL {versions.postgresql}.
      </li>
      <li data-wants={versions.migrations > 0 || undefined}>
        {versions.migrations === 0
          ? 'The database is up to date.'
          : `The database waits for ${counted(versions.migrations, 'migration')}: run script/serve migrate.`}
      </li>
      <li data-wants={workers === 0 || undefined}>
        {workers === 0
          ? 'No worker gives a sign of life: imports, reports and letters wait.'
          : `${counted(workers, 'worker')} at work.`}
      </li>
      <li data-wants={!backup || backup.old || undefined}>
        {backup
          ? `The last backup is of ${moment(backup.at)}, ${size(backup.bytes)}, ${
              backup.encrypted ? 'encrypted' : 'not encrypted'
            }${backup.old ? '; that is more than a day ago' : ''}.`
          : 'script/backup has made no backup of it yet.'}
      </li>
    </ul>
  )
}

const QUEUES: Record<string, string> = {
  imports: 'Imports',
  reports: 'Reports',
  letters: 'Letters and messages',
  feeds: 'Feeds',
}

function Waiting({ condition }: { condition: Condition }) {
  return (
    <>
      <Head>What waits</Head>
      <Table.ScrollContainer minWidth={480}>
        <Table fz={13} verticalSpacing={5} aria-label="Queues" maw={720}>
          <Table.Thead>
            <Table.Tr>
              <Table.Th>Queue</Table.Th>
              <Table.Th className={classes.number}>Waiting</Table.Th>
              <Table.Th className={classes.number}>Under way</Table.Th>
              <Table.Th className={classes.number}>Oldest waits</Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {condition.queues.map((row) => (
              <Table.Tr key={row.queue}>
                <Table.Td>{QUEUES[row.queue] ?? row.queue}</Table.Td>
                <Table.Td className={classes.number}>{row.todo.toLocaleString('en-US')}</Table.Td>
                <Table.Td className={classes.number}>{row.doing.toLocaleString('en-US')}</Table.Td>
                <Table.Td className={classes.number}>
                  {row.oldest_seconds > 0 ? waited(row.oldest_seconds) : '–'}
                </Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </Table.ScrollContainer>
    </>
  )
}

const KINDS: Record<string, string> = { import: 'Import', report: 'Report', letter: 'Letter' }

function FailedWork({ condition }: { condition: Condition }) {
  const { again } = useConditionActs()
  return (
    <>
      <Head>What has failed</Head>
      {condition.failed.length === 0 ? (
        <p className="quiet">Nothing that is still known of.</p>
      ) : (
        <Table.ScrollContainer minWidth={640}>
          <Table fz={13} verticalSpacing={5} aria-label="Failed work">
            <Table.Thead>
              <Table.Tr>
                <Table.Th w={90}>What</Table.Th>
                <Table.Th w={200}>Of</Table.Th>
                <Table.Th w={170}>Asked for</Table.Th>
                <Table.Th>Why</Table.Th>
                <Table.Th w={80}>
                  <span className="unseen">What can be done</span>
                </Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {condition.failed.map((row) => (
                <Table.Tr key={`${row.kind} ${row.id}`}>
                  <Table.Td>{KINDS[row.kind] ?? row.kind}</Table.Td>
                  <Table.Td>{row.workspace || '–'}</Table.Td>
                  <Table.Td>{row.at ? moment(row.at) : '–'}</Table.Td>
                  <Table.Td>{row.problem}</Table.Td>
                  <Table.Td>
                    {row.can_begin_again && (
                      <Button
                        size="compact-xs"
                        variant="default"
                        aria-label={`${KINDS[row.kind] ?? row.kind} ${row.id} again`}
                        disabled={again.isPending}
                        onClick={() => again.mutate(row)}
                      >
                        Again
                      </Button>
                    )}
                  </Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </Table.ScrollContainer>
      )}
    </>
  )
}

function Slow({ condition }: { condition: Condition }) {
  return (
    <>
      <Head>What the database spends its time on</Head>
      {condition.statements === null ? (
        <p className="quiet">
          It does not count its statements: load pg_stat_statements there, and create the extension
          in this database.
        </p>
      ) : (
        <Table.ScrollContainer minWidth={640}>
          <Table fz={13} verticalSpacing={5} aria-label="Statements">
            <Table.Thead>
              <Table.Tr>
                <Table.Th className={classes.number}>In all</Table.Th>
                <Table.Th className={classes.number}>Times</Table.Th>
                <Table.Th className={classes.number}>Each</Table.Th>
                <Table.Th>Statement</Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {condition.statements.map((row) => (
                <Table.Tr key={row.text}>
                  <Table.Td className={classes.number}>{waited(row.seconds)}</Table.Td>
                  <Table.Td className={classes.number}>
                    {row.calls.toLocaleString('en-US')}
                  </Table.Td>
                  <Table.Td className={classes.number}>
                    {row.mean_milliseconds.toLocaleString('en-US', { maximumSignificantDigits: 2 })}{' '}
                    ms
                  </Table.Td>
                  <Table.Td>
                    <code className={classes.statement} title={row.text}>
                      {row.text}
                    </code>
                  </Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </Table.ScrollContainer>
      )}
    </>
  )
}

function Holders({ holders, onRoom }: { holders: Holder[]; onRoom: (slug: string) => void }) {
  if (holders.length === 0) return <p className="quiet">No workspace has this in its name.</p>
  return (
    <Table.ScrollContainer minWidth={680}>
      <Table fz={13} verticalSpacing={5} aria-label="Workspaces">
        <Table.Thead>
          <Table.Tr>
            <Table.Th>Workspace</Table.Th>
            <Table.Th className={classes.number}>People</Table.Th>
            <Table.Th className={classes.number}>KPIs</Table.Th>
            <Table.Th className={classes.number}>Values</Table.Th>
            <Table.Th className={classes.number}>About</Table.Th>
            <Table.Th>Little room for</Table.Th>
            <Table.Th w={80}>
              <span className="unseen">What can be done</span>
            </Table.Th>
          </Table.Tr>
        </Table.Thead>
        <Table.Tbody>
          {holders.map((row) => (
            <Table.Tr key={row.slug}>
              <Table.Td>{row.name}</Table.Td>
              <Table.Td className={classes.number}>{row.people.toLocaleString('en-US')}</Table.Td>
              <Table.Td className={classes.number}>{row.kpis.toLocaleString('en-US')}</Table.Td>
              <Table.Td className={classes.number}>{row.values.toLocaleString('en-US')}</Table.Td>
              <Table.Td className={classes.number}>{size(row.bytes)}</Table.Td>
              <Table.Td>
                {row.bounds
                  .filter(({ near }) => near)
                  .map(({ things, there, most }) => `${things}: ${there} of ${most}`)
                  .join('; ') || '–'}
              </Table.Td>
              <Table.Td>
                <Button
                  size="compact-xs"
                  variant="subtle"
                  aria-label={`Room of ${row.name}`}
                  onClick={() => onRoom(row.slug)}
                >
                  Room…
                </Button>
              </Table.Td>
            </Table.Tr>
          ))}
        </Table.Tbody>
      </Table>
    </Table.ScrollContainer>
  )
}
