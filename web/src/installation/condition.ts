// How the installation is, for whoever sees to it.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import { notifyProblem } from '../shared/notifications.tsx'

export type Condition = Schemas['Condition']
export type Holder = Schemas['Holder']
export type Bound = Schemas['Bound']
export type Failed = Schemas['FailedJob']

const LOOKED_AT_EVERY = 15_000
const base = '/api/v1/installation' as const

export function useCondition(named: string) {
  return useQuery({
    queryKey: keys.condition(named),
    queryFn: () => answer(client.GET(base, { params: { query: { named } } })),
    staleTime: 0,
    refetchInterval: LOOKED_AT_EVERY,
    placeholderData: keepPreviousData,
  })
}

export function useConditionActs() {
  const queries = useQueryClient()
  const onSuccess = () => queries.invalidateQueries({ queryKey: keys.condition() })
  return {
    again: useMutation({
      mutationFn: ({ kind, id }: Pick<Failed, 'kind' | 'id'>) =>
        answer(
          client.POST(`${base}/jobs/{kind}/{number}`, { params: { path: { kind, number: id } } }),
        ),
      onSuccess,
      onError: notifyProblem,
    }),
    give: useMutation({
      mutationFn: ({ slug, room }: { slug: string; room: Schemas['RoomRequest'] }) =>
        answer(client.PUT(`${base}/rooms/{slug}`, { params: { path: { slug } }, body: room })),
      onSuccess,
    }),
  }
}

/** `1.2 GB`: bytes as people say them, in thousands. */
export function size(bytes: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB']
  let [left, at] = [bytes, 0]
  while (left >= 999.5 && at < units.length - 1) [left, at] = [left / 1000, at + 1]
  return `${left.toLocaleString('en-US', { maximumSignificantDigits: 3 })} ${units[at]}`
}

/** `0.2 s`, `40 s`, `12 min`, `3 h`: how long something waits, or takes. */
export function waited(seconds: number): string {
  if (seconds < 9.95) return `${seconds.toLocaleString('en-US', { maximumFractionDigits: 1 })} s`
  if (seconds < 90) return `${Math.round(seconds)} s`
  if (seconds < 5400) return `${Math.round(seconds / 60)} min`
  return `${Math.round(seconds / 3600)} h`
}
