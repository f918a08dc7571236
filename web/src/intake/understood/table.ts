// What was pasted or uploaded, how it is to be read, and what the server understood of it.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../../api/client.ts'
import { keys, renew } from '../../api/keys.ts'

export type Reading = Schemas['Reading']
export type Mapping = Partial<Schemas['MappingRequest']>
export type KpiRead = Schemas['KpiRead']
export type KpiChoice = Partial<Schemas['KpiChoiceRequest']>
export type Details = Partial<Schemas['DetailsRequest']>
export type Role = Schemas['ColumnRole']
export type Mode = Schemas['ImportMode']
export type Uploaded = Schemas['Uploaded']

const base = '/api/v1/workspaces/{workspace}' as const

/** Sends a table to where it waits; `into` names the KPI it is for. */
export function useUpload(workspace: string, into: string | null) {
  return useMutation({
    mutationFn: (table: { text?: string; file?: File }) => {
      const data = new FormData()
      if (table.file) data.append('file', table.file)
      else data.append('text', table.text ?? '')
      return answer(
        client.POST(`${base}/uploads`, {
          params: { path: { workspace }, query: into ? { into } : {} },
          body: data as never,
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

export function useReading(
  workspace: string,
  upload: number | null,
  mapping: Mapping,
  into: string | null,
  shown: string | null,
) {
  return useQuery({
    queryKey: keys.reading(workspace, upload, mapping, into, shown),
    queryFn: ({ signal }) =>
      answer(
        client.POST(`${base}/uploads/{upload}/read`, {
          params: { path: { workspace, upload: upload ?? 0 } },
          body: { mapping: mapping as Schemas['MappingRequest'], into, shown },
          signal,
        }),
      ),
    enabled: upload !== null,
    placeholderData: (before, query) =>
      query?.queryKey[2] === upload ? keepPreviousData(before) : undefined,
    gcTime: 10_000,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  })
}

export function useBringIn(workspace: string, upload: number | null) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: { mapping: Mapping; into: string | null; mode: Mode }) =>
      answer(
        client.POST(`${base}/uploads/{upload}/import`, {
          params: { path: { workspace, upload: upload ?? 0 } },
          body: { ...body, mapping: body.mapping as Schemas['MappingRequest'] },
        }),
      ),
    onSuccess: () => renew.afterImport(queries, workspace),
  })
}
