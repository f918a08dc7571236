import { Button, Group, Modal, Stack, Text, TextInput } from '@mantine/core'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { Notice } from '../../shared/Notice.tsx'
import { useChartSession } from '../session/ChartSession.tsx'

/** Deletes a KPI once its name was typed. */
export function DeleteKpi({ onClose }: { onClose: () => void }) {
  const { path, saved, acts } = useChartSession()
  const navigate = useNavigate()
  const [typed, setTyped] = useState('')
  const { name, revision } = saved.kpi
  const { remove } = acts
  return (
    <Modal
      opened
      onClose={onClose}
      title={`Delete ${name}?`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          remove.mutate(
            { name: typed, revision },
            { onSuccess: () => navigate(`/${path.workspace}`) },
          )
        }}
      >
        <Stack gap="sm">
          <Text size="sm">
            Deleting removes the KPI with all its values, segments and history. It cannot be undone.
            KPIs that are made from it keep their values, and follow no more.
          </Text>
          {remove.error && <Notice error={remove.error} />}
          <TextInput
            label={`Type ${name} to delete it`}
            data-autofocus
            value={typed}
            onChange={(event) => setTyped(event.currentTarget.value)}
          />
          <Group>
            <Button
              type="submit"
              color="signal"
              variant="outline"
              loading={remove.isPending}
              disabled={typed !== name}
            >
              Delete KPI
            </Button>
            <Button variant="default" onClick={onClose}>
              Keep it
            </Button>
          </Group>
        </Stack>
      </form>
    </Modal>
  )
}
