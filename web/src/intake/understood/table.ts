// What was pasted or uploaded, how it is to be read, and what the server understood of it.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas, Unreachable } from '../../api/client.ts'
import { keys, renew } from '../../api/keys.ts'

export type Reading = Schemas['Reading']
export type Mapping = Partial<Schemas['MappingRequest']>
export type KpiRead = Schemas['KpiRead']
export type KpiChoice = Partial<Schemas['KpiChoiceRequest']>
export type Details = Partial<Schemas['DetailsRequest']>
export type Role = Schemas['ColumnRole']
export type Mode = Schemas['ImportMode']
export type Uploaded = Schemas['Uploaded']

/** How a table is read that nothing is known of, or the way that one like it was. */
export function startingFrom(last: Mapping | null): Mapping {
  return last ?? { time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone }
}

export const MOST_TRIES = 3
/** Nothing is saved by it: where no answer comes, it is asked for again. */
const again = {
  retry: (count: number, error: Error) => error instanceof Unreachable && count < MOST_TRIES,
  retryDelay: (count: number) => 1000 * 2 ** count,
}

const base = '/api/v1/workspaces/{workspace}' as const

/** Sends a table to where it waits; `into` names the KPI it is for. */
export function useUpload(workspace: string, into: string | null) {
  return useMutation({
    ...again,
    mutationFn: (table: { text?: string; file?: File; signal: AbortSignal }) => {
      const data = new FormData()
      if (table.file) data.append('file', table.file)
      else data.append('text', table.text ?? '')
      return answer(
        client.POST(`${base}/uploads`, {
          params: { path: { workspace }, query: into ? { into } : {} },
          body: data as never,
          signal: table.signal,
          // The generated client would make JSON of it.
          bodySerializer: (body: unknown) => body as FormData,
        }),
      )
    },
  })
}

/** A table that is being read in the background, asked for until it has been. */
export function useBeingRead(workspace: string, upload: number | null, into: string | null) {
  return useQuery({
    queryKey: keys.beingRead(workspace, upload),
    queryFn: ({ signal }) =>
      answer(
        client.GET(`${base}/uploads/{upload}`, {
          params: { path: { workspace, upload: upload ?? 0 }, query: into ? { into } : {} },
          signal,
        }),
      ),
    enabled: upload !== null,
    retry: false,
    gcTime: 0,
    refetchInterval: (query) => (query.state.data?.being_read === false ? false : 1000),
  })
}

/** Drops a table that is not wanted any more, so that it takes no room. */
export function useDropUpload(workspace: string) {
  return useMutation({
    mutationFn: (upload: number) =>
      answer(
        client.DELETE(`${base}/uploads/{upload}`, { params: { path: { workspace, upload } } }),
      ),
  })
}

interface Asked {
  workspace: string
  upload: number
  mapping: Mapping
  into: string | null
  shown: string | null
  /** Whether all of it is wanted, and not its first rows. */
  whole: boolean
  enabled: boolean
}

/** What is understood of a table: of its first rows, or of the whole. */
export function useReading({ workspace, upload, mapping, into, shown, whole, enabled }: Asked) {
  return useQuery({
    queryKey: keys.reading(workspace, upload, mapping, into, shown, whole),
    queryFn: ({ signal }) =>
      answer(
        client.POST(`${base}/uploads/{upload}/read`, {
          params: { path: { workspace, upload } },
          body: { mapping: mapping as Schemas['MappingRequest'], into, shown, whole },
          signal,
        }),
      ),
    enabled,
    placeholderData: whole ? undefined : keepPreviousData,
    gcTime: 10_000,
    staleTime: Number.POSITIVE_INFINITY,
    ...again,
  })
}

/** A feed that a table is of: to be set up as a draft, or to learn the table's shape. */
export type OfFeed = { draft: number; name: string } | { learns: number; name: string }

/** Sets a feed up with its first table, or lets one go on with a table of another shape. */
export function useSaveFeed(workspace: string, upload: number) {
  const queries = useQueryClient()
  const onSuccess = () => renew.afterImport(queries, workspace)
  return {
    setUp: useMutation({
      mutationFn: ({
        draft,
        mapping,
        ...body
      }: {
        draft: number
        name: string
        mapping: Mapping
        schedule: Schemas['Schedule']
        time_zone: string
      }) =>
        answer(
          client.POST(`${base}/feeds/{number}/set-up`, {
            params: { path: { workspace, number: draft } },
            body: { ...body, upload, mapping: mapping as Schemas['MappingRequest'], into: null },
          }),
        ),
      onSuccess,
    }),
    learn: useMutation({
      mutationFn: ({ feed, mapping }: { feed: number; mapping: Mapping }) =>
        answer(
          client.POST(`${base}/feeds/{number}/learn`, {
            params: { path: { workspace, number: feed } },
            body: { upload, mapping: mapping as Schemas['MappingRequest'] },
          }),
        ),
      onSuccess,
    }),
  }
}

/** The table of a feed that waits for a decision. */
export function useHeld(workspace: string, feed: number | null) {
  return useQuery({
    queryKey: keys.held(workspace, feed ?? 0),
    queryFn: () =>
      answer(
        client.POST(`${base}/feeds/{number}/held`, {
          params: { path: { workspace, number: feed ?? 0 } },
        }),
      ),
    enabled: feed !== null,
    retry: false,
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  })
}

export function useBringIn(workspace: string, upload: number) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: { mapping: Mapping; into: string | null; mode: Mode }) =>
      answer(
        client.POST(`${base}/uploads/{upload}/import`, {
          params: { path: { workspace, upload } },
          body: { ...body, mapping: body.mapping as Schemas['MappingRequest'] },
        }),
      ),
    onSuccess: () => renew.afterImport(queries, workspace),
  })
}
