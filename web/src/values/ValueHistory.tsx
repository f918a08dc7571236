import { Loader, Modal, Text } from '@mantine/core'
import type { Chart } from '../chart/model/types.ts'
import type { KpiPath } from '../chart-page/data/chart.ts'
import { Notice } from '../shared/Notice.tsx'
import { formatNumber } from '../shared/numbers.ts'
import { longPeriod, moment } from '../shared/writing.ts'
import classes from './Values.module.css'
import { useVersions, type Value } from './values.ts'

interface Props {
  path: KpiPath
  kpi: Chart['kpi']
  value: Value | null
  onClose: () => void
}

/** What a value has been: who wrote it, when, and by which act it ended. */
export function History({ path, kpi, value, onClose }: Props) {
  const versions = useVersions(path, value)
  return (
    <Modal
      opened={value !== null}
      onClose={onClose}
      title={value ? `History of ${longPeriod(value.period, kpi.grain)}` : ''}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {versions.isPending && <Loader size="sm" role="status" aria-label="Loading" />}
      {versions.error && <Notice error={versions.error} retry={versions.refetch} />}
      <ol className={classes.history}>
        {versions.data?.map((one) => (
          <li key={`${one.version} ${one.ended_at}`}>
            <b>{one.value === null ? '' : formatNumber(one.value, kpi.decimals)}</b>
            {one.set_aside && ` (set aside: ${one.reason})`}
            {one.note && ` “${one.note}”`}
            <Text size="sm" c="dimmed">
              {one.act}, {one.author || 'no name'}, {moment(one.at)}
            </Text>
            {one.ended_at && (
              <Text size="sm" c="dimmed">
                until: {one.ended_by}, {one.ended_author || 'no name'}, {moment(one.ended_at)}
              </Text>
            )}
          </li>
        ))}
      </ol>
    </Modal>
  )
}
