import { Button, Group, Loader, Modal, Progress, Text, Title } from '@mantine/core'
import { useEffect, useState } from 'react'
import { Link, useParams } from 'react-router'
import { Problem } from '../api/client.ts'
import { FeedList } from '../feeds/FeedList.tsx'
import { BringPackage } from '../reports/BringPackage.tsx'
import { LittleRoom } from '../shared/LittleRoom.tsx'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { counted, kilobytes } from '../shared/writing.ts'
import classes from './Intake.module.css'
import { type Import, isUnderWay, useImportActs, useImports } from './imports.ts'
import { KeptReadings } from './kept/KeptReadings.tsx'

/** Everything that was brought in: who, when, from what, what came of it, and the way back. */
export function DataPage() {
  const { workspace = '' } = useParams()
  const may = useMay()
  const [before, setBefore] = useState<number | null>(null)
  const imports = useImports(workspace, before)
  useEffect(() => {
    document.title = 'Data · Fluctus'
  }, [])
  return (
    <div className={classes.page}>
      <Group justify="space-between" mb="xs">
        <Title order={1} size={25}>
          Data
        </Title>
        {may.edit && (
          <Group gap="xs">
            <BringPackage workspace={workspace} />
            <Button component={Link} to={`/${workspace}/new`}>
              Bring in a table
            </Button>
          </Group>
        )}
      </Group>
      <LittleRoom workspace={workspace} />
      <FeedList workspace={workspace} />
      <Title order={2} size={18} mt="xl" mb={4}>
        Imports
      </Title>
      <Text c="dimmed" mb="md">
        Every table that came in, newest first. Each can be undone, and gives back what it replaced.
      </Text>
      {imports.isPending && <Loader role="status" aria-label="Loading" />}
      {imports.error && <Notice error={imports.error} retry={imports.refetch} />}
      {imports.data?.length === 0 && (
        <Text>
          {before === null
            ? 'Nothing has been brought in yet. “Bring in a table” begins.'
            : 'That was the oldest.'}
        </Text>
      )}
      <ul className={classes.log}>
        {imports.data?.map((row) => (
          <Entry key={row.id} row={row} workspace={workspace} />
        ))}
      </ul>
      <Group mt="sm">
        {before !== null && (
          <Button size="xs" variant="default" onClick={() => setBefore(null)}>
            Newest
          </Button>
        )}
        {imports.data?.length === 30 && (
          <Button
            size="xs"
            variant="default"
            onClick={() => setBefore(imports.data?.at(-1)?.id ?? null)}
          >
            Older
          </Button>
        )}
      </Group>
      <KeptReadings workspace={workspace} />
    </div>
  )
}

const STATUS: Record<Import['status'], string> = {
  waiting: 'waiting for its turn',
  running: 'under way',
  done: '',
  failed: 'failed; nothing was saved',
  cancelled: 'cancelled; nothing was saved',
  undone: 'undone',
}

function Entry({ row, workspace }: { row: Import; workspace: string }) {
  const acts = useImportActs(workspace)
  const may = useMay()
  const [open, setOpen] = useState(false)
  const conflict =
    acts.undo.error instanceof Problem && acts.undo.error.status === 409 ? acts.undo.error : null
  const at = new Date(row.at)
  return (
    <li className="card" data-status={row.status}>
      <div className={classes.entryHead}>
        <b>{row.file_name || 'A paste'}</b>
        <span className="quiet">
          {at.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })}{' '}
          {at.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}, by{' '}
          {row.person || 'nobody'}
        </span>
        {STATUS[row.status] && <span className={classes.status}>{STATUS[row.status]}</span>}
      </div>
      {isUnderWay(row) && (
        <Group gap="sm" my={4}>
          <Progress value={row.progress * 100} w={260} aria-label="How far the import is" />
          <Text size="sm" c="dimmed">
            {row.stage}
          </Text>
          <Button size="compact-xs" variant="default" onClick={() => acts.cancel.mutate(row.id)}>
            Cancel
          </Button>
        </Group>
      )}
      {row.parts.map((part) => (
        <div key={part.name} className={classes.part}>
          {part.slug ? (
            <Link className={classes.link} to={`/${workspace}/charts/${part.slug}`}>
              {part.name}
            </Link>
          ) : (
            <span>{part.name}</span>
          )}{' '}
          {part.created ? 'new KPI, ' : ''}
          {counted(part.counts.new, 'new value')}
          {part.counts.changed > 0 && `, ${part.counts.changed.toLocaleString('en-US')} changed`}
          {part.counts.same > 0 && `, ${part.counts.same.toLocaleString('en-US')} the same`}
        </div>
      ))}
      {row.problem && (
        <div className={classes.part}>
          {row.problem.title} {row.problem.issues[0]?.detail} {row.problem.issues[0]?.remedy}
        </div>
      )}
      <div className={classes.links}>
        {row.checksum !== '' && (
          <button
            type="button"
            className={classes.link}
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            {open ? 'Less' : 'How it was read'}
          </button>
        )}
        {may.add && row.can_begin_again && (
          <button
            type="button"
            className={classes.link}
            disabled={acts.again.isPending}
            onClick={() => acts.again.mutate(row.id)}
          >
            Start it again
          </button>
        )}
        {may.add && row.status === 'done' && (
          <button
            type="button"
            className={classes.link}
            disabled={acts.undo.isPending}
            onClick={() => acts.undo.mutate({ number: row.id, later: null })}
          >
            Undo this import
          </button>
        )}
      </div>
      {open && <Details row={row} />}
      {acts.undo.error && !conflict && <Notice error={acts.undo.error} />}
      <Modal
        opened={conflict !== null}
        onClose={() => acts.undo.reset()}
        title="Undo this import?"
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        {conflict?.issues.map((issue) => (
          <Text key={issue.detail} size="sm" mb="xs">
            {issue.detail}
          </Text>
        ))}
        <Group mt="sm">
          <Button
            variant="default"
            onClick={() => acts.undo.mutate({ number: row.id, later: 'keep' })}
          >
            Undo, but keep what was done since
          </Button>
          <Button
            color="signal"
            variant="outline"
            onClick={() => acts.undo.mutate({ number: row.id, later: 'discard' })}
          >
            Undo all of it
          </Button>
        </Group>
      </Modal>
    </li>
  )
}

function Details({ row }: { row: Import }) {
  return (
    <div className={classes.part}>
      <p>
        {counted(row.rows, 'row')} read. {row.read_as && `${row.read_as}.`}
      </p>
      <p className="quiet">
        {kilobytes(row.size)}, SHA-256 {row.checksum.slice(0, 16)}…
      </p>
      {row.left_out_count > 0 && (
        <>
          <p>{counted(row.left_out_count, 'row')} left out:</p>
          <ul>
            {row.left_out.slice(0, 20).map((leftOut) => (
              <li key={`${leftOut.line} ${leftOut.why}`}>
                Row {leftOut.line}: {leftOut.why} {leftOut.text && `“${leftOut.text}”`}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  )
}
