import { Button } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { answer, client } from '../api/client.ts'
import { renew } from '../api/keys.ts'
import { useImport } from '../intake/imports.ts'
import { announce } from '../shared/announcing.tsx'
import { notifyProblem } from '../shared/notifications.tsx'
import { TakeFile } from '../shared/TakeFile.tsx'
import { counted } from '../shared/writing.ts'

/**
 * Brings in a data package that was taken elsewhere: all of it, or nothing.
 *
 * In the background: how far it is, and how to stop it, stands in the list of imports.
 */
export function BringPackage({ workspace }: { workspace: string }) {
  const queries = useQueryClient()
  const [number, setNumber] = useState<number | null>(null)
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
    onSuccess: ({ id }) => {
      renew.afterImport(queries, workspace)
      setNumber(id)
    },
    onError: notifyProblem,
  })
  const underWay = useImport(workspace, number)
  const status = underWay.data?.status
  useEffect(() => {
    if (status !== 'done') return
    renew.afterImport(queries, workspace)
    renew.afterEvent(queries, workspace)
    const names = underWay.data?.parts.map(({ name }) => name) ?? []
    const came = `${counted(names.length, 'KPI')} came in: ${names.join(', ')}.`
    notifications.show({ message: came })
    announce(came)
    setNumber(null)
  }, [status, queries, workspace, underWay.data])
  return (
    <TakeFile accept=".zip,application/zip" onTake={(file) => bring.mutate(file)}>
      {(props) => (
        <Button variant="default" loading={bring.isPending} {...props}>
          Bring in a data package
        </Button>
      )}
    </TakeFile>
  )
}
