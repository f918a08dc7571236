import { Loader } from '@mantine/core'
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react'
import { useState } from 'react'
import type { KpiRow } from '../shared/kpis.ts'
import { Notice } from '../shared/Notice.tsx'
import { Stretches } from '../shared/Stretches.tsx'
import { counted, days } from '../shared/writing.ts'
import classes from './Events.module.css'
import { EventTable } from './EventTable.tsx'
import { type Event, type State, useEvents } from './events.ts'

interface Props {
  workspace: string
  search: string
  states: readonly State[]
  kpis: readonly KpiRow[]
  onOpen: (event: Event) => void
}

/** States of the world, one row each; the times that one held unfold below it. */
export function StateRows({ states, ...props }: Props) {
  const [open, setOpen] = useState<string | null>(null)
  if (states.length === 0) return null
  return (
    <section aria-label="States" className={classes.states}>
      <h2>States</h2>
      <ul>
        {states.map((state) => {
          const unfolded = open === state.title
          const Chevron = unfolded ? IconChevronDown : IconChevronRight
          return (
            <li key={state.title}>
              <button
                type="button"
                className={classes.state}
                aria-expanded={unfolded}
                onClick={() => setOpen(unfolded ? null : state.title)}
              >
                <Chevron size={16} aria-hidden />
                <b>{state.title}</b>
                <span className="quiet">
                  {counted(state.times, 'time')}, {days(state.first, state.last)}
                </span>
              </button>
              {unfolded && <Times {...props} state={state} />}
            </li>
          )
        })}
      </ul>
    </section>
  )
}

/** The times that a state held. */
function Times({
  workspace,
  search,
  state,
  kpis,
  onOpen,
}: Omit<Props, 'states'> & { state: State }) {
  const [start, setStart] = useState(0)
  const times = useEvents(workspace, start, search, state.title)
  if (times.isPending) return <Loader size="sm" role="status" aria-label="Loading" />
  if (times.error) return <Notice error={times.error} retry={times.refetch} />
  const { events, count } = times.data
  return (
    <div className={classes.times}>
      <EventTable
        {...{ workspace, kpis, onOpen }}
        rows={events}
        label={`Times of ${state.title}`}
      />
      <Stretches {...{ start, count }} shown={events.length} onStart={setStart} />
    </div>
  )
}
