import { TextInput } from '@mantine/core'
import classes from './Feeds.module.css'
import type { Schedule } from './feeds.ts'
import { Plan } from './Plan.tsx'

export interface Planned {
  name: string
  schedule: Schedule
  zone: string
}

interface Props {
  workspace: string
  plan: Planned
  onChange: (plan: Planned) => void
}

/** What a feed that was looked at is called, and when it fetches. */
export function FeedPlan({ workspace, plan, onChange }: Props) {
  return (
    <fieldset className={classes.plan}>
      <legend>Fetch it by itself</legend>
      <TextInput
        label="Name of the feed"
        maxLength={80}
        value={plan.name}
        onChange={({ currentTarget }) => onChange({ ...plan, name: currentTarget.value })}
        mb={8}
      />
      <Plan
        workspace={workspace}
        schedule={plan.schedule}
        zone={plan.zone}
        onChange={(schedule, zone) => onChange({ ...plan, schedule, zone })}
      />
    </fieldset>
  )
}
