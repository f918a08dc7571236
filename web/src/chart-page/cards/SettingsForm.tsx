import { Button, Group, Stack } from '@mantine/core'
import type { ReactNode } from 'react'
import { Notice } from '../../shared/Notice.tsx'
import classes from './ChartCard.module.css'
import type { useSettings } from './useSettings.ts'

interface Props {
  label: string
  draft: Pick<ReturnType<typeof useSettings>, 'changed' | 'save' | 'saving' | 'error'>
  /** Whether they cannot be kept as they stand. */
  wrong?: boolean
  children: ReactNode
}

/** Settings in a card, and the way to keep what it shows on the chart. */
export function SettingsForm({ label, draft, wrong = false, children }: Props) {
  const { saving, error } = draft
  const changed = draft.changed && !wrong
  return (
    <form
      aria-label={label}
      onSubmit={(event) => {
        event.preventDefault()
        if (!wrong) draft.save()
      }}
    >
      <Stack gap="xs">
        {children}
        <div className={classes.save}>
          {error && <Notice error={error} />}
          <Group gap="xs">
            <Button type="submit" size="xs" loading={saving} disabled={!changed}>
              Save
            </Button>
            {changed && <span className="quiet">Shown on the chart, not kept yet</span>}
          </Group>
        </div>
      </Stack>
    </form>
  )
}
