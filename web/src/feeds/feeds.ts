// Feeds: tables that fetch themselves, and what can be done with them.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys, renew } from '../api/keys.ts'

export type FeedRow = Schemas['FeedRow']
export type FeedDetails = Schemas['FeedDetails']
export type FetchRow = Schemas['FetchRow']
export type Schedule = Schemas['Schedule']
export type Where = Schemas['SourceRequest']
export type LookedAtFeed = Schemas['LookedAtFeed']

const base = '/api/v1/workspaces/{workspace}/feeds' as const
/** Milliseconds between two looks: while one fetches, and otherwise. */
const SOON = 1000
const NOW_AND_THEN = 20_000

export function useFeeds(workspace: string) {
  return useQuery({
    queryKey: keys.feeds(workspace),
    queryFn: () => answer(client.GET(base, { params: { path: { workspace } } })),
    refetchInterval: (query) =>
      query.state.data?.some((feed) => feed.fetching) ? SOON : NOW_AND_THEN,
  })
}

export function useFeed(workspace: string, number: number) {
  return useQuery({
    queryKey: keys.feed(workspace, number),
    queryFn: () =>
      answer(client.GET(`${base}/{number}`, { params: { path: { workspace, number } } })),
    refetchInterval: (query) => (query.state.data?.feed.fetching ? SOON : NOW_AND_THEN),
  })
}

/** Fetches the table of a source to be looked at. */
export function useLook(workspace: string) {
  return useMutation({
    mutationFn: ({ where, feed }: { where: Where; feed: number | null }) =>
      answer(
        client.POST(`${base}/look`, { params: { path: { workspace } }, body: { where, feed } }),
      ),
  })
}

/** A schedule in words, with its next times. */
export function useWhen(workspace: string, schedule: Schedule, time_zone: string) {
  return useQuery({
    queryKey: keys.when(workspace, schedule, time_zone),
    queryFn: () =>
      answer(
        client.POST(`${base}/when`, {
          params: { path: { workspace } },
          body: { schedule, time_zone },
        }),
      ),
    retry: false,
    placeholderData: (before) => before,
  })
}

export interface Change {
  name?: string
  schedule?: Schedule
  time_zone?: string
  paused?: boolean
  take_over?: boolean
  draft?: number
}

export function useFeedActs(workspace: string, number: number) {
  const queries = useQueryClient()
  const path = { workspace, number }
  const onSettled = () => renew.afterImport(queries, workspace)
  return {
    change: useMutation({
      mutationFn: ({ revision, ...change }: Change & { revision: number }) =>
        answer(
          client.PATCH(`${base}/{number}`, {
            params: { path, header: { 'If-Match': `"${revision}"` } },
            body: change as Schemas['PatchedFeedChangeRequest'],
          }),
        ),
      onSettled,
    }),
    fetchNow: useMutation({
      mutationFn: () => answer(client.POST(`${base}/{number}/fetch`, { params: { path } })),
      onSettled,
    }),
    stop: useMutation({
      mutationFn: () => answer(client.POST(`${base}/{number}/stop`, { params: { path } })),
      onSettled,
    }),
    decide: useMutation({
      mutationFn: (act: 'as_before' | 'leave_out') =>
        answer(client.POST(`${base}/{number}/decide`, { params: { path }, body: { act } })),
      onSettled,
    }),
    remove: useMutation({
      mutationFn: () => answer(client.DELETE(`${base}/{number}`, { params: { path } })),
      onSettled,
    }),
  }
}

/** Where the schedule of a new feed begins. */
export const EVERY_WEEKDAY: Schedule = {
  every: 'weekday',
  minute: 6 * 60 + 10,
  weekday: 0,
  day: 1,
  cron: '',
}
