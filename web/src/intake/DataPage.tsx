import { Button, Group, Loader, Modal, Progress, Text, Title } from '@mantine/core'
import { useEffect, useState } from 'react'
import { Link, useParams } from 'react-router'
import { Problem } from '../api/client.ts'
import { Notice } from '../shared/Notice.tsx'
import { counted } from '../shared/writing.ts'
import classes from './Intake.module.css'
import { type Import, isUnderWay, useImportActs, useImports } from './imports.ts'

/** Everything that was brought in: who, when, from what, what came of it, and the way back. */
export function DataPage() {
  const { workspace = '' } = useParams()
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
        <Button component={Link} to={`/${workspace}/new`}>
          Bring in a table
        </Button>
      </Group>
      <Text c="dimmed" mb="md">
        Every table that came in, newest first. Each can be undone, and gives back what it replaced.
      </Text>
      {imports.isPending && <Loader role="status" aria-label="Loading" />}
      {imports.error && <Notice error={imports.error} retry={imports.refetch} />}
      {imports.data?.length === 0 && (
        <Text>
          {before === null
            ? 'Nothing has been brought in yet. The values of the demo came with it.'
            : 'That was the oldest.'}
        </Text>
      )}
      <ul className={classes.log}>
        {imports.data?.map((one) => (
          <Entry key={one.id} one={one} workspace={workspace} />
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

function Entry({ one, workspace }: { one: Import; workspace: string }) {
  const acts = useImportActs(workspace)
  const [open, setOpen] = useState(false)
  const conflict =
    acts.undo.error instanceof Problem && acts.undo.error.status === 409 ? acts.undo.error : null
  const at = new Date(one.at)
  return (
    <li className="card" data-status={one.status}>
      <div className={classes.entryHead}>
        <b>{one.file_name || 'A paste'}</b>
        <span className="quiet">
          {at.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })}{' '}
          {at.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}, by{' '}
          {one.person || 'nobody'}
        </span>
        {STATUS[one.status] && <span className={classes.status}>{STATUS[one.status]}</span>}
      </div>
      {isUnderWay(one) && (
        <Group gap="sm" my={4}>
          <Progress value={one.progress * 100} w={260} aria-label="How far the import is" />
          <Text size="sm" c="dimmed">
            {one.stage}
          </Text>
          <Button size="compact-xs" variant="default" onClick={() => acts.cancel.mutate(one.id)}>
            Cancel
          </Button>
        </Group>
      )}
      {one.parts.map((part) => (
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
      {one.problem && (
        <div className={classes.part}>
          {one.problem.title} {one.problem.issues[0]?.detail}
        </div>
      )}
      <div className={classes.links}>
        <button
          type="button"
          className={classes.link}
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          {open ? 'Less' : 'How it was read'}
        </button>
        {one.status === 'done' && (
          <button
            type="button"
            className={classes.link}
            disabled={acts.undo.isPending}
            onClick={() => acts.undo.mutate({ number: one.id, later: null })}
          >
            Undo this import
          </button>
        )}
      </div>
      {open && <Details one={one} />}
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
            onClick={() => acts.undo.mutate({ number: one.id, later: 'keep' })}
          >
            Undo, but keep what was done since
          </Button>
          <Button
            color="signal"
            variant="outline"
            onClick={() => acts.undo.mutate({ number: one.id, later: 'discard' })}
          >
            Undo all of it
          </Button>
        </Group>
      </Modal>
    </li>
  )
}

function Details({ one }: { one: Import }) {
  return (
    <div className={classes.part}>
      <p>
        {counted(one.rows, 'row')} read. {one.read_as && `${one.read_as}.`}
      </p>
      <p className="quiet">
        {(one.size / 1024).toLocaleString('en-US', { maximumFractionDigits: 1 })} kB, SHA-256{' '}
        {one.checksum.slice(0, 16)}…
      </p>
      {one.left_out_count > 0 && (
        <>
          <p>{counted(one.left_out_count, 'row')} left out:</p>
          <ul>
            {one.left_out.slice(0, 20).map((row) => (
              <li key={`${row.line} ${row.why}`}>
                Row {row.line}: {row.why} {row.text && `“${row.text}”`}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  )
}
