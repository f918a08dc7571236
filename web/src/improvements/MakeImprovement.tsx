import { Button } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { lazy, Suspense } from 'react'
import { useNavigate } from 'react-router'
import { useMay } from '../shared/may.ts'
import { notifyUndoable } from '../shared/notifications.tsx'
import type { Draft } from './improvements.ts'

const ImprovementForm = lazy(async () => ({
  default: (await import('./ImprovementForm.tsx')).ImprovementForm,
}))

/** Writes an improvement down from what is looked at: a finding, a shift, an event. */
export function MakeImprovement({ workspace, draft }: { workspace: string; draft: Draft }) {
  const [opened, form] = useDisclosure()
  const navigate = useNavigate()
  const may = useMay()
  if (!may.add) return null
  return (
    <>
      <Button size="compact-sm" variant="light" onClick={form.open}>
        What was done about it
      </Button>
      {opened && (
        <Suspense>
          <ImprovementForm
            workspace={workspace}
            draft={draft}
            onClose={form.close}
            onSaved={({ name }) =>
              notifyUndoable(
                `${name} is written down.`,
                () => navigate(`/${workspace}/improvements`),
                'See it',
              )
            }
          />
        </Suspense>
      )}
    </>
  )
}
