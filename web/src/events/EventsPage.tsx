import { Button, FileButton, Group, Loader, Modal, Table, TextInput, Title } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useEffect, useState } from 'react'
import { Link, useParams } from 'react-router'
import { EventCard } from '../chart-page/cards/EventCard.tsx'
import { type EventDraft, eventAt } from '../chart-page/session/drafts/eventDraft.ts'
import { calendarIsOpen } from '../shared/day/DayInput.tsx'
import { KINDS } from '../shared/eventKinds.ts'
import { useKpis } from '../shared/kpis.ts'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { notifyUndoable } from '../shared/notifications.tsx'
import { Stretches } from '../shared/Stretches.tsx'
import { counted, days } from '../shared/writing.ts'
import { Arrivals } from './Arrivals.tsx'
import classes from './Events.module.css'
import { useCalendarActs, useEventActs, useEvents } from './events.ts'

const KIND = Object.fromEntries(KINDS.map(({ value, label }) => [value, label]))

/** All events of the workspace, and the way in and out for calendar files. Long as one page: its parts in turn. */
export function EventsPage() {
  const { workspace = '' } = useParams()
  const [start, setStart] = useState(0)
  const [search, setSearch] = useState('')
  const events = useEvents(workspace, start, search)
  const kpis = useKpis(workspace)
  const acts = useCalendarActs(workspace)
  const { add, change, remove } = useEventActs(workspace)
  const [file, setFile] = useState<File | null>(null)
  const [draft, setDraft] = useState<EventDraft | null>(null)
  const begin = () => {
    const today = new Date().toLocaleDateString('sv')
    setDraft({ ...eventAt(today, ''), everywhere: true, kpis: [] })
  }
  const may = useMay()
  useHotkeys([['E', () => may.add && begin()]])
  const names = new Map(kpis.data?.map((kpi) => [kpi.slug, kpi.name]))
  useEffect(() => {
    document.title = 'Events · Fluctus'
  }, [])

  function choose(chosen: File | null) {
    setFile(chosen)
    if (chosen) acts.read.mutate(chosen)
  }

  function bring(skip: boolean) {
    if (!file) return
    acts.bring.mutate(
      { file, skip },
      {
        onSuccess: (done) => {
          setFile(null)
          const message = `${counted(done.added, 'event')} brought in, ${done.changed} changed.`
          if (done.added > 0)
            notifyUndoable(message, () => acts.takeBack.mutate(done.id), 'Take the new ones back')
          else notifications.show({ message })
        },
      },
    )
  }

  const close = { onSuccess: () => setDraft(null) }
  const opened = draft?.id == null ? null : { ...draft, id: draft.id }

  const rows = events.data?.events ?? []
  const count = events.data?.count ?? 0
  return (
    <>
      <Group justify="space-between" mb={4}>
        <Title order={1} size={25}>
          Events
        </Title>
        <Group gap="xs">
          <Button
            component="a"
            variant="default"
            href={`/api/v1/workspaces/${workspace}/events/file`}
          >
            Export as calendar
          </Button>
          {may.add && (
            <FileButton accept=".ics,.csv,.tsv,.xlsx,.ods,text/calendar,text/csv" onChange={choose}>
              {(props) => (
                <Button variant="default" {...props}>
                  Bring in a calendar or states
                </Button>
              )}
            </FileButton>
          )}
          {may.add && <Button onClick={begin}>Add event</Button>}
        </Group>
      </Group>
      <p className="quiet">
        What happened, beside the numbers. <kbd>E</kbd> adds an event, here or at a point of a
        chart; others come from a calendar file (iCalendar), or from a table of days with the state
        that held on each.
      </p>
      {file && (
        <Arrivals
          file={file}
          read={acts.read}
          bringing={acts.bring.isPending}
          onBring={bring}
          onCancel={() => choose(null)}
        />
      )}
      <TextInput
        size="xs"
        w={260}
        mb="xs"
        aria-label="Search the events"
        placeholder="Search the events"
        value={search}
        onChange={(event) => {
          setSearch(event.currentTarget.value)
          setStart(0)
        }}
      />
      {events.isPending && <Loader role="status" aria-label="Loading" />}
      {events.error && <Notice error={events.error} retry={events.refetch} />}
      {events.data && rows.length === 0 && (
        <p>{search ? `Nothing has “${search}” in it.` : 'No events yet.'}</p>
      )}
      {rows.length > 0 && (
        <Table.ScrollContainer minWidth={640}>
          <Table aria-label="Events" verticalSpacing={5} fz={13}>
            <Table.Thead>
              <Table.Tr>
                <Table.Th w={210}>Days</Table.Th>
                <Table.Th w={90}>Kind</Table.Th>
                <Table.Th>What happened</Table.Th>
                <Table.Th>Told with</Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {rows.map((event) => (
                <Table.Tr key={event.id}>
                  <Table.Td>{days(event.first, event.last)}</Table.Td>
                  <Table.Td>{KIND[event.kind]}</Table.Td>
                  <Table.Td>
                    <button type="button" className={classes.title} onClick={() => setDraft(event)}>
                      {event.title}
                    </button>{' '}
                    <span className="quiet">{event.text}</span>
                  </Table.Td>
                  <Table.Td>
                    {event.everywhere
                      ? 'All KPIs'
                      : event.kpis.map((slug, n) => (
                          <span key={slug}>
                            {n > 0 && ', '}
                            <Link to={`/${workspace}/charts/${slug}`}>
                              {names.get(slug) ?? slug}
                            </Link>
                          </span>
                        ))}
                  </Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </Table.ScrollContainer>
      )}
      <Modal
        opened={draft !== null}
        onClose={() => !calendarIsOpen() && setDraft(null)}
        title={opened ? 'Event' : 'New event'}
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        {draft && (
          <EventCard
            workspace={workspace}
            draft={draft}
            saving={add.isPending || change.isPending || remove.isPending}
            onSave={(own) =>
              opened ? change.mutate({ event: opened, own }, close) : add.mutate(own, close)
            }
            onRemove={() => opened && remove.mutate(opened, close)}
          />
        )}
      </Modal>
      <Stretches {...{ start, count }} shown={rows.length} onStart={setStart} />
    </>
  )
}
