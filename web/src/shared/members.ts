// Who is in a workspace.
import { useQuery } from '@tanstack/react-query'
import { answer, client } from '../api/client.ts'
import { keys } from '../api/keys.ts'

const base = '/api/v1/workspaces/{workspace}' as const

export function useMembers(workspace: string, enabled = true) {
  return useQuery({
    queryKey: keys.members(workspace),
    queryFn: () => answer(client.GET(`${base}/members`, { params: { path: { workspace } } })),
    enabled,
    staleTime: 60_000,
  })
}
