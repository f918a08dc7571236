import { Button, FileButton } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { answer, client } from '../api/client.ts'
import { renew } from '../api/keys.ts'
import { notifyProblem } from '../shared/notifications.tsx'
import { counted } from '../shared/writing.ts'

/** Brings in a data package that was taken elsewhere: all of it, or nothing. */
export function BringPackage({ workspace }: { workspace: string }) {
  const queries = useQueryClient()
  const bring = useMutation({
    mutationFn: (file: File) =>
      answer(
        client.POST('/api/v1/workspaces/{workspace}/packages', {
          params: { path: { workspace } },
          body: { file: file as unknown as string },
          bodySerializer: () => {
            const form = new FormData()
            form.append('file', file)
            return form
          },
        }),
      ),
    onSuccess: (made) => {
      renew.afterImport(queries, workspace)
      renew.afterEvent(queries, workspace)
      const names = made.map(({ name }) => name).join(', ')
      notifications.show({ message: `${counted(made.length, 'KPI')} came in: ${names}.` })
    },
    onError: notifyProblem,
  })
  return (
    <FileButton accept=".zip,application/zip" onChange={(file) => file && bring.mutate(file)}>
      {(props) => (
        <Button variant="default" loading={bring.isPending} {...props}>
          Bring in a data package
        </Button>
      )}
    </FileButton>
  )
}
