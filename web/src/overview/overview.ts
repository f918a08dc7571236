// All KPIs at once, from the server, a screen of them at a time.
import {
  keepPreviousData,
  useMutation,
  useQueries,
  useQuery,
  useQueryClient,
} from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import { type DatesAsked, datesOf } from '../shared/looking/useDates.ts'
import { notifyProblem } from '../shared/notifications.tsx'

export type Overview = Schemas['Overview']
export type Row = Schemas['OverviewRow']

const base = '/api/v1/workspaces/{workspace}/overview' as const
/** KPIs in one answer. */
export const ROWS = 16

export const SHOWS = [
  { value: 'all', label: 'All' },
  { value: 'new', label: 'New findings' },
  { value: 'waits', label: 'To decide' },
  { value: 'out', label: 'Beyond limits now' },
  { value: 'never', label: 'Cannot meet target' },
  { value: 'not_predictable', label: 'Not predictable' },
  { value: 'late', label: 'Data is late' },
  { value: 'steady', label: 'Steady' },
] as const
export type Shows = (typeof SHOWS)[number]['value']

export const ORDERS = [
  { value: 'newest', label: 'Newest finding first' },
  { value: 'name', label: 'By name' },
  { value: 'group', label: 'By group' },
  { value: 'target', label: 'Furthest from target first' },
  { value: 'hand', label: 'By hand' },
] as const
export type Order = (typeof ORDERS)[number]['value']

export interface Wanted extends DatesAsked {
  shows: Shows
  order: Order
  group?: string
  folded: string[]
}

/** What the address of the overview asks for. */
export function wantedOf(address: URLSearchParams): Wanted {
  const among = <T extends string>(options: readonly { value: T }[], name: string, other: T) =>
    options.find(({ value }) => value === address.get(name))?.value ?? other
  return {
    shows: among(SHOWS, 'shows', 'all'),
    order: among(ORDERS, 'order', 'newest'),
    folded: address.getAll('folded'),
    ...datesOf(address),
  }
}

/** The screens of the overview that begin at some rows. */
export function useOverview(workspace: string, wanted: Wanted, starts: number[]) {
  return useQueries({
    queries: starts.map((start) => ({
      queryKey: keys.overview(workspace, wanted, start),
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        answer(
          client.GET(base, {
            params: { path: { workspace }, query: { ...wanted, start } },
            signal,
          }),
        ),
      placeholderData: keepPreviousData,
    })),
  })
}

export function useTogether(workspace: string, dates: DatesAsked, within: number) {
  return useQuery({
    queryKey: keys.together(workspace, dates, within),
    queryFn: ({ signal }) =>
      answer(
        client.GET(`${base}/together`, {
          params: { path: { workspace }, query: { ...dates, within } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  })
}

/** Keeps the order that a person puts the groups in. */
export function useGroupOrder(workspace: string) {
  return useOrder(workspace, (body: Schemas['MoveGroupRequest']) =>
    answer(client.PUT(`${base}/groups`, { params: { path: { workspace } }, body })),
  )
}

/** Keeps the order of a person. */
export function useHandOrder(workspace: string) {
  return useOrder(workspace, (body: Schemas['MoveRequest']) =>
    answer(client.PUT(`${base}/order`, { params: { path: { workspace } }, body })),
  )
}

/** One move after the other, whatever is moved. */
function useOrder<Move>(workspace: string, mutationFn: (move: Move) => Promise<unknown>) {
  const queries = useQueryClient()
  return useMutation({
    scope: { id: `order ${workspace}` },
    mutationFn,
    onSettled: () => queries.invalidateQueries({ queryKey: keys.overview(workspace) }),
    onError: notifyProblem,
  })
}
