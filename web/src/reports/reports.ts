// Reports: what is made in the background to be handed over.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import { notifyProblem } from '../shared/notifications.tsx'

export type Report = Schemas['Report']
export type Format = Schemas['Format']

const base = '/api/v1/workspaces/{workspace}/reports' as const
/** Milliseconds between two looks at a report that is being made. */
const SOON = 700

/** What can be handed over: its name, its file, and what is in it. */
export const FORMATS: Record<Format, { name: string; file: string; says: string }> = {
  pdf: {
    name: 'Report',
    file: 'PDF',
    says: 'Each chart with its sentence, its numbers, findings with causes, before and after, and how it was computed.',
  },
  slides: {
    name: 'Slides',
    file: 'PPTX',
    says: 'One slide a chart, the sentence as its title; findings are in the notes.',
  },
  workbook: {
    name: 'Workbook',
    file: 'XLSX',
    says: 'Values with live formulas for averages, limits and rules, and a chart of them.',
  },
  package: {
    name: 'Data package',
    file: 'ZIP',
    says: 'Values, segments, limits, events and causes in open files, to bring in elsewhere.',
  },
}

export const isUnderWay = ({ status }: Report) => status === 'waiting' || status === 'running'

export function useReports(workspace: string, start: number) {
  return useQuery({
    queryKey: keys.reports(workspace, start),
    queryFn: () => answer(client.GET(base, { params: { path: { workspace }, query: { start } } })),
    placeholderData: keepPreviousData,
    refetchInterval: (query) => (query.state.data?.reports.some(isUnderWay) ? SOON : false),
  })
}

export function useReport(workspace: string, number: number) {
  return useQuery({
    queryKey: keys.reports(workspace, 'one', number),
    queryFn: () =>
      answer(client.GET(`${base}/{number}`, { params: { path: { workspace, number } } })),
    refetchInterval: (query) => (query.state.data && isUnderWay(query.state.data) ? SOON : false),
  })
}

export function useReportActs(workspace: string) {
  const queries = useQueryClient()
  const renewed = {
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: keys.reports(workspace) })
    },
  }
  const at = (number: number) => ({ params: { path: { workspace, number } } })
  return {
    make: useMutation({
      mutationFn: (body: Schemas['NewReportRequest']) =>
        answer(client.POST(base, { params: { path: { workspace } }, body })),
      ...renewed,
    }),
    again: useMutation({
      mutationFn: (number: number) => answer(client.POST(`${base}/{number}/again`, at(number))),
      ...renewed,
      onError: notifyProblem,
    }),
    cancel: useMutation({
      mutationFn: (number: number) => answer(client.POST(`${base}/{number}/cancel`, at(number))),
      ...renewed,
      onError: notifyProblem,
    }),
    remove: useMutation({
      mutationFn: (number: number) => answer(client.DELETE(`${base}/{number}`, at(number))),
      ...renewed,
      onError: notifyProblem,
    }),
  }
}

export const fileOf = (workspace: string, number: number) =>
  `/api/v1/workspaces/${workspace}/reports/${number}/file`
export const pageOf = (workspace: string, number: number, page: number) =>
  `/api/v1/workspaces/${workspace}/reports/${number}/pages/${page}`
