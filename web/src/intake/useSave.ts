import { notifications } from '@mantine/notifications'
import { useNavigate } from 'react-router'
import type { Schemas } from '../api/client.ts'
import type { Planned } from '../feeds/FeedPlan.tsx'
import { notifyUndoable } from '../shared/notifications.tsx'
import {
  type Mapping,
  type Mode,
  type OfFeed,
  type Uploaded,
  useBringIn,
  useSaveFeed,
} from './understood/table.ts'
import { inWords } from './words.ts'

interface Saved {
  workspace: string
  uploaded: Uploaded
  feed: OfFeed | null | undefined
  plan: Planned
  mapping: Mapping
  into: string | null
  mode: Mode
  /** Whether the table says what its people are to reach. */
  goal: boolean
  onWaiting: (number: number) => void
}

/** Saves a table that is looked at: brought in, or as what a feed is read by; and goes where it is then. */
export function useSave(saved: Saved) {
  const { workspace, uploaded, feed, plan, mapping, into, mode, goal, onWaiting } = saved
  const navigate = useNavigate()
  const bringIn = useBringIn(workspace, uploaded.id)
  const ofFeed = useSaveFeed(workspace, uploaded.id)

  function save() {
    const opened = (number: number) => navigate(`/${workspace}/feeds/${number}`)
    if (feed && 'learns' in feed) {
      const onSuccess = () => opened(feed.learns)
      ofFeed.learn.mutate({ feed: feed.learns, mapping }, { onSuccess })
    } else if (feed) {
      const { name, schedule, zone } = plan
      ofFeed.setUp.mutate(
        { draft: feed.draft, mapping, name, schedule, time_zone: zone },
        {
          onSuccess: (made) => (made.under_way ? onWaiting(made.brought) : opened(made.feed)),
        },
      )
    } else bringTableIn()
  }

  function bringTableIn() {
    // By its promise: what asked for it may be gone by then, as the first hour is once there are KPIs.
    bringIn.mutateAsync({ mapping, into, mode }).then(broughtIn, () => undefined)
  }

  function broughtIn(made: Schemas['Import']) {
    if (made.status === 'waiting' || made.status === 'running') {
      onWaiting(made.id)
      return
    }
    const [first] = made.parts
    const names = made.parts.map((part) => part.name).join(', ')
    const query = made.parts.map(({ slug }) => `kpi=${slug}`).join('&')
    if (!into && made.parts.length > 1)
      notifyUndoable(
        `${names}: saved.`,
        () => navigate(`/${workspace}/compare/goal?${query}`),
        'Compare them',
      )
    else
      notifications.show({
        message: into ? inWords(made.parts[0]?.counts) : `${names}: saved.`,
        autoClose: 5000,
      })
    // People with a goal are looked at beside each other, in one step.
    const withGoal = !into && goal && made.parts.length === 1
    if (first?.slug)
      navigate(
        withGoal
          ? `/${workspace}/compare/parts?plot=one&weeks=all&${query}`
          : `/${workspace}/charts/${first.slug}`,
      )
  }

  return {
    save,
    saving: bringIn.isPending || ofFeed.setUp.isPending || ofFeed.learn.isPending,
    refused: bringIn.error ?? ofFeed.setUp.error ?? ofFeed.learn.error,
  }
}
