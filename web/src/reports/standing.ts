// Reports that are made by themselves.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import { notifyProblem } from '../shared/notifications.tsx'

const base = '/api/v1/workspaces/{workspace}' as const

export function useStanding(workspace: string) {
  return useQuery({
    queryKey: keys.reports(workspace, 'standing'),
    queryFn: () =>
      answer(client.GET(`${base}/standing-reports`, { params: { path: { workspace } } })),
  })
}

export function useStandingActs(workspace: string) {
  const queries = useQueryClient()
  const onSettled = () => queries.invalidateQueries({ queryKey: keys.reports(workspace) })
  return {
    keep: useMutation({
      mutationFn: ({ report, ...body }: Schemas['StandingRequest'] & { report: number }) =>
        answer(
          client.POST(`${base}/reports/{number}/standing`, {
            params: { path: { workspace, number: report } },
            body,
          }),
        ),
      onSettled,
    }),
    remove: useMutation({
      mutationFn: (number: number) =>
        answer(
          client.DELETE(`${base}/standing-reports/{number}`, {
            params: { path: { workspace, number } },
          }),
        ),
      onSettled,
      onError: notifyProblem,
    }),
  }
}
