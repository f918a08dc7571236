import { Button, Group, Loader, Modal, TextInput, Title } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useEffect, useState } from 'react'
import { useParams } from 'react-router'
import { EventCard } from '../chart-page/cards/EventCard.tsx'
import { type EventDraft, eventAt } from '../chart-page/session/drafts/eventDraft.ts'
import { calendarIsOpen } from '../shared/day/DayInput.tsx'
import { useKpis } from '../shared/kpis.ts'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { notifyUndoable } from '../shared/notifications.tsx'
import { Stretches } from '../shared/Stretches.tsx'
import { TakeFile } from '../shared/TakeFile.tsx'
import { counted, today } from '../shared/writing.ts'
import { Arrivals } from './Arrivals.tsx'
import { EventTable } from './EventTable.tsx'
import { useCalendarActs, useEventActs, useEvents } from './events.ts'
import { StateRows } from './StateRows.tsx'

/** All events of the workspace, and the way in and out for calendar files. */
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
    setDraft({ ...eventAt(today(), ''), everywhere: true, kpis: [] })
  }
  const may = useMay()
  useHotkeys([['E', () => may.add && begin()]])
  useEffect(() => {
    document.title = 'Events · Fluctus'
  }, [])

  function choose(chosen: File) {
    setFile(chosen)
    acts.read.mutate(chosen)
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
  const states = events.data?.states ?? []
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
            <TakeFile accept=".ics,.csv,.tsv,.xlsx,.ods,text/calendar,text/csv" onTake={choose}>
              {(props) => (
                <Button variant="default" {...props}>
                  Bring in a calendar or states
                </Button>
              )}
            </TakeFile>
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
          onCancel={() => setFile(null)}
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
      {events.data && rows.length === 0 && states.length === 0 && (
        <p>{search ? `Nothing has “${search}” in it.` : 'No events yet.'}</p>
      )}
      <StateRows {...{ workspace, search, states, kpis: kpis.data ?? [] }} onOpen={setDraft} />
      {rows.length > 0 && (
        <EventTable {...{ workspace, rows, kpis: kpis.data ?? [] }} onOpen={setDraft} />
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
