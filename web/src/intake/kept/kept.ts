// Readings that are kept by name, and what can be done with them.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../../api/client.ts'
import { keys } from '../../api/keys.ts'
import type { Mapping } from '../understood/table.ts'

export type KeptReading = Schemas['KeptReading']
export type ReadingFile = Schemas['ReadingFile']

const base = '/api/v1/workspaces/{workspace}' as const

export function useKeptReadings(workspace: string) {
  return useQuery({
    queryKey: keys.keptReadings(workspace),
    queryFn: () => answer(client.GET(`${base}/readings`, { params: { path: { workspace } } })),
  })
}

/** Keeps how an upload is read, by a name. */
export function useKeepReading(workspace: string, upload: number) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ mapping, ...body }: { name: string; mapping: Mapping; replace: boolean }) =>
      answer(
        client.POST(`${base}/uploads/{upload}/keep`, {
          params: { path: { workspace, upload } },
          body: { ...body, mapping: mapping as Schemas['MappingRequest'] },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.keptReadings(workspace) }),
  })
}

export function useKeptActs(workspace: string) {
  const queries = useQueryClient()
  const onSuccess = () => queries.invalidateQueries({ queryKey: keys.keptReadings(workspace) })
  return {
    bring: useMutation({
      mutationFn: (file: ReadingFile & { replace?: boolean }) =>
        answer(
          client.POST(`${base}/readings`, {
            params: { path: { workspace } },
            body: file as unknown as Schemas['ReadingFileRequest'],
          }),
        ),
      onSuccess,
    }),
    /** Removes one; gives back what it was, so that it can be kept again. */
    remove: useMutation({
      mutationFn: async (number: number) => {
        const path = { params: { path: { workspace, number } } }
        const file = await answer(client.GET(`${base}/readings/{number}`, path))
        await answer(client.DELETE(`${base}/readings/{number}`, path))
        return file
      },
      onSuccess,
    }),
  }
}
