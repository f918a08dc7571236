// Reports that are made by themselves.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import { notifyProblem } from '../shared/notifications.tsx'

const base = '/api/v1/workspaces/{workspace}' as const

export function useScheduled(workspace: string) {
  return useQuery({
    queryKey: keys.reports(workspace, 'scheduled'),
    queryFn: () =>
      answer(client.GET(`${base}/scheduled-reports`, { params: { path: { workspace } } })),
  })
}

export function useScheduledActs(workspace: string) {
  const queries = useQueryClient()
  const onSettled = () => queries.invalidateQueries({ queryKey: keys.reports(workspace) })
  return {
    keep: useMutation({
      mutationFn: ({ report, ...body }: Schemas['ScheduledRequest'] & { report: number }) =>
        answer(
          client.POST(`${base}/reports/{number}/scheduled`, {
            params: { path: { workspace, number: report } },
            body,
          }),
        ),
      onSettled,
    }),
    remove: useMutation({
      mutationFn: (number: number) =>
        answer(
          client.DELETE(`${base}/scheduled-reports/{number}`, {
            params: { path: { workspace, number } },
          }),
        ),
      onSettled,
      onError: notifyProblem,
    }),
  }
}
