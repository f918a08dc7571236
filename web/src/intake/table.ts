// What was pasted or uploaded, how it is to be read, and what the server understood of it.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../client.ts'
import { kpisKey } from '../kpi/kpis.ts'

export type Reading = Schemas['Reading']
export type Choices = Partial<Schemas['ReadingChoices']>
export type Details = Omit<Schemas['ChartSettingsRequest'], 'rules' | 'run_length' | 'segments'>

export interface Table {
  /** Tells one file from the next, which looks the same to the cache. */
  number: number
  text: string
  file: File | null
}

function form(table: Table, choices: Choices, details: Details): FormData {
  const data = new FormData()
  if (table.file) data.append('file', table.file)
  else data.append('text', table.text)
  data.append('choices', JSON.stringify(choices))
  data.append('details', JSON.stringify(details))
  return data
}

/** Sends a form as it is; the generated client would make JSON of it. */
const asForm = { bodySerializer: (body: unknown) => body as FormData }

export function useReading(
  workspace: string,
  table: Table | null,
  choices: Choices,
  details: Details,
) {
  return useQuery({
    queryKey: ['reading', workspace, table?.number, table?.text, choices, details],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/workspaces/{workspace}/intake/read', {
          params: { path: { workspace } },
          body: form(table ?? { number: 0, text: '', file: null }, choices, details) as never,
          ...asForm,
          signal,
        }),
      ),
    enabled: table !== null,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
    staleTime: Number.POSITIVE_INFINITY,
  })
}

export function useCreateKpi(workspace: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (made: { table: Table; choices: Choices; details: Details }) =>
      answer(
        client.POST('/api/v1/workspaces/{workspace}/intake/kpis', {
          params: { path: { workspace } },
          body: form(made.table, made.choices, made.details) as never,
          ...asForm,
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: kpisKey(workspace) }),
  })
}
