import { Button, MultiSelect, Text, Title } from '@mantine/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { EVERY_WEEKDAY, type Schedule } from '../feeds/feeds.ts'
import { Plan } from '../feeds/Plan.tsx'
import { useMay } from '../shared/may.ts'
import { useMembers } from '../shared/members.ts'
import { Notice } from '../shared/Notice.tsx'
import { moment } from '../shared/writing.ts'
import classes from './Reports.module.css'
import { useScheduled, useScheduledActs } from './scheduled.ts'

/** The reports that are made by themselves; nothing where there are none. */
export function ScheduledReports({ workspace }: { workspace: string }) {
  const rows = useScheduled(workspace)
  const acts = useScheduledActs(workspace)
  const may = useMay()
  if (!rows.data?.length) return null
  return (
    <section aria-labelledby="scheduled">
      <Title order={2} size={18} id="scheduled" mt="md" mb={4}>
        Made by themselves
      </Title>
      <ul className={classes.scheduled}>
        {rows.data.map((row) => (
          <li key={row.id}>
            <b>{row.title}</b>{' '}
            <span className="quiet">
              {row.says}, next {moment(row.next_at)}
            </span>{' '}
            {row.last_report !== null && (
              <Link to={`/${workspace}/reports/${row.last_report}`}>The last one</Link>
            )}{' '}
            {row.problem && <span>{row.problem}</span>}
            {may.edit && (
              <Button
                size="compact-xs"
                variant="default"
                onClick={() => acts.remove.mutate(row.id)}
                aria-label={`Make ${row.title} by itself no more`}
              >
                End this
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

interface Props {
  workspace: string
  report: number
  onDone: () => void
}

/** When a report is made by itself, and to whom it goes. */
export function ScheduledForm({ workspace, report, onDone }: Props) {
  const { keep } = useScheduledActs(workspace)
  const members = useMembers(workspace).data ?? []
  const [schedule, setSchedule] = useState<Schedule>({ ...EVERY_WEEKDAY, every: 'week' })
  const [zone, setZone] = useState(Intl.DateTimeFormat().resolvedOptions().timeZone)
  const [to, setTo] = useState<string[]>([])
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        keep.mutate({ report, schedule, time_zone: zone, to }, { onSuccess: onDone })
      }}
    >
      <Plan
        workspace={workspace}
        schedule={schedule}
        zone={zone}
        only={['day', 'weekday', 'week', 'month', 'cron']}
        onChange={(next, now) => {
          setSchedule(next)
          setZone(now)
        }}
      />
      <MultiSelect
        mt="sm"
        label="Mail it to"
        description="Nobody: it is left in Reports"
        data={members.map(({ username, name }) => ({ value: username, label: name }))}
        value={to}
        onChange={setTo}
      />
      {keep.error && <Notice error={keep.error} />}
      <Text size="sm" c="dimmed" mt="sm">
        Each time it shows the same with the data of that day.
      </Text>
      <Button type="submit" mt="sm" loading={keep.isPending}>
        Make it by itself
      </Button>
    </form>
  )
}
