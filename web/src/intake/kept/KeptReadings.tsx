import { Button, Group, Text, Title } from '@mantine/core'
import { useState } from 'react'
import { Problem } from '../../api/client.ts'
import { useMay } from '../../shared/may.ts'
import { Notice } from '../../shared/Notice.tsx'
import { notifyProblem, notifyUndoable } from '../../shared/notifications.tsx'
import { TakeFile } from '../../shared/TakeFile.tsx'
import { dayOf } from '../../shared/writing.ts'
import classes from '../Intake.module.css'
import { type KeptReading, type ReadingFile, useKeptActs, useKeptReadings } from './kept.ts'

/** The readings that are kept by name: what they know a table by, as files, and removed. */
export function KeptReadings({ workspace }: { workspace: string }) {
  const may = useMay()
  const kept = useKeptReadings(workspace)
  const acts = useKeptActs(workspace)
  const [broken, setBroken] = useState<Error | null>(null)
  const [taken, setTaken] = useState<ReadingFile | null>(null)

  function bring(file: ReadingFile & { replace?: boolean }) {
    setTaken(null)
    acts.bring.mutate(file, {
      onError: (error) =>
        error instanceof Problem && error.status === 409 ? setTaken(file) : setBroken(error),
    })
  }

  async function take(file: File) {
    setBroken(null)
    try {
      bring(JSON.parse(await file.text()) as ReadingFile)
    } catch {
      const remedy = 'Choose a file that was exported here, in JSON.'
      setBroken(new Problem(422, 'This is no reading.', [{ ...NOWHERE, remedy }]))
    }
  }

  function remove(row: KeptReading) {
    acts.remove.mutate(row.id, {
      onSuccess: (file) =>
        notifyUndoable(`The reading ${row.name} is removed.`, () => acts.bring.mutate(file)),
      onError: notifyProblem,
    })
  }

  return (
    <section aria-labelledby="kept-readings">
      <Group justify="space-between" mt="xl" mb={4}>
        <Title order={2} size={18} id="kept-readings">
          Readings
        </Title>
        {may.add && (
          <TakeFile accept=".json,application/json" onTake={take}>
            {(props) => (
              <Button {...props} size="xs" variant="default">
                Bring in a reading
              </Button>
            )}
          </TakeFile>
        )}
      </Group>
      <Text c="dimmed" size="sm" mb="sm">
        How tables were read, kept by name: the next one of the same shape is read the same way.
      </Text>
      {kept.error && <Notice error={kept.error} retry={kept.refetch} />}
      {broken && <Notice error={broken} />}
      {taken && (
        <Group role="alert" mb="sm" gap="xs">
          <Text size="sm">There is a reading called {taken.name} already.</Text>
          <Button size="compact-sm" onClick={() => bring({ ...taken, replace: true })}>
            Replace it
          </Button>
          <Button size="compact-sm" variant="default" onClick={() => setTaken(null)}>
            Leave it
          </Button>
        </Group>
      )}
      {kept.data?.length === 0 && (
        <Text size="sm">None yet. A table that is brought in offers to keep how it was read.</Text>
      )}
      <ul className={classes.log} aria-label="Readings">
        {kept.data?.map((row) => (
          <li key={row.id} className="card">
            <div className={classes.entryHead}>
              <b>{row.name}</b>
              <span className="quiet">
                {dayOf(row.at)}
                {row.person && `, by ${row.person}`}
              </span>
            </div>
            <div className={classes.part}>
              Known by: {row.columns.slice(0, 8).join(', ')}
              {row.columns.length > 8 && ` and ${row.columns.length - 8} more`}
            </div>
            <div className={classes.links}>
              <a
                className={classes.link}
                href={`/api/v1/workspaces/${workspace}/readings/${row.id}`}
                download={`${row.name}.json`}
              >
                Export
              </a>
              {may.edit && (
                <button
                  type="button"
                  className={classes.link}
                  aria-label={`Remove ${row.name}`}
                  onClick={() => remove(row)}
                >
                  Remove
                </button>
              )}
            </div>
          </li>
        ))}
      </ul>
    </section>
  )
}

const NOWHERE = { detail: 'The file cannot be read.', field: '', row: null, column: '', found: '' }
