import { Button, Group, Loader } from '@mantine/core'
import type { UseMutationResult } from '@tanstack/react-query'
import type { Schemas } from '../api/client.ts'
import { Notice } from '../shared/Notice.tsx'
import { counted, days } from '../shared/writing.ts'

interface Props {
  file: File
  read: UseMutationResult<Schemas['CalendarRead'], Error, File>
  bringing: boolean
  onBring: (skip: boolean) => void
  onCancel: () => void
}

/** What a calendar file would bring, what in it is no event, and whether to bring it in. */
export function Arrivals({ file, read, bringing, onBring, onCancel }: Props) {
  const found = read.data
  const coming = found ? found.new + found.changed : 0
  return (
    <section
      className="card"
      aria-label="Calendar file"
      style={{ padding: '12px 16px', marginBottom: 14, maxWidth: 860, fontSize: 13.5 }}
    >
      <b>{file.name}</b>
      {read.isPending && <Loader size="xs" ml="xs" role="status" aria-label="Reading" />}
      {read.error && <Notice error={read.error} />}
      {found && (
        <>
          <p style={{ margin: '6px 0' }}>
            {counted(found.new, 'new event')}, {found.changed} changed, {found.same} as they are.
            {found.repeated > 0 &&
              ` ${counted(found.repeated, 'event')} of these come of repeats, up to a year from now.`}
          </p>
          {found.broken_count > 0 && (
            <>
              <p style={{ margin: '6px 0 2px' }} role="alert">
                {counted(found.broken_count, 'event')} cannot be read:
              </p>
              <ul style={{ margin: '0 0 8px', paddingLeft: 18 }}>
                {found.broken.slice(0, 8).map((one) => (
                  <li key={`${one.line} ${one.detail}`}>
                    Line {one.line}: {one.detail} {one.remedy}
                  </li>
                ))}
                {found.broken_count > 8 && <li>and {found.broken_count - 8} more</li>}
              </ul>
            </>
          )}
          <ul style={{ margin: '0 0 10px', paddingLeft: 18 }} className="quiet">
            {found.sample.slice(0, 5).map((one) => (
              <li key={`${one.title} ${one.first}`}>
                {one.title}, {days(one.first, one.last)}
              </li>
            ))}
            {coming > 5 && <li>and {(coming - 5).toLocaleString('en-US')} more</li>}
          </ul>
        </>
      )}
      <Group gap="xs">
        {found && (
          <Button
            size="xs"
            disabled={coming === 0}
            loading={bringing}
            onClick={() => onBring(found.broken_count > 0)}
          >
            {found.broken_count > 0 ? 'Bring in those that can be read' : 'Bring them in'}
          </Button>
        )}
        <Button size="xs" variant="default" onClick={onCancel}>
          Leave it
        </Button>
      </Group>
    </section>
  )
}
