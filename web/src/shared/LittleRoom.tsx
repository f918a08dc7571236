import { Alert } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { answer, client } from '../api/client.ts'
import { keys } from '../api/keys.ts'

/** Says where a workspace has little room left, before it has none, and whom to ask. */
export function LittleRoom({ workspace }: { workspace: string }) {
  const room = useQuery({
    queryKey: keys.room(workspace),
    queryFn: () =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/room', { params: { path: { workspace } } }),
      ),
  })
  const near = room.data?.bounded.filter((one) => one.near) ?? []
  if (near.length === 0) return null
  return (
    <Alert color="signal" variant="outline" mb="md" role="note" title="Little room is left">
      {near
        .map(
          ({ things, there, most }) =>
            `${there.toLocaleString('en-US')} of ${most.toLocaleString('en-US')} ${things}`,
        )
        .join(', ')}
      . For more, ask {room.data?.ask}.
    </Alert>
  )
}
