import { Button, Group } from '@mantine/core'
import { Notice } from '../../shared/Notice.tsx'
import classes from './ChartCard.module.css'
import type { useSettings } from './useSettings.ts'

/** The way to keep what a card of settings shows on the chart. */
export function SaveSettings({
  changed,
  saving,
  error,
}: Pick<ReturnType<typeof useSettings>, 'changed' | 'saving' | 'error'>) {
  return (
    <div className={classes.save}>
      {error && <Notice error={error} />}
      <Group gap="xs">
        <Button type="submit" size="xs" loading={saving} disabled={!changed}>
          Save
        </Button>
        {changed && <span className="quiet">Shown on the chart, not kept yet</span>}
      </Group>
    </div>
  )
}
