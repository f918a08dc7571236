import { Modal } from '@mantine/core'
import { useNavigate } from 'react-router'
import { useChartSession } from '../session/ChartSession.tsx'
import { KpiDetails } from './KpiDetails.tsx'

/** The details of a KPI, over its chart. */
export default function DetailsModal({ onClose }: { onClose: () => void }) {
  const { path, saved, base, acts, may } = useChartSession()
  const navigate = useNavigate()
  return (
    <Modal
      opened
      onClose={onClose}
      title="Details"
      size="lg"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <KpiDetails
        path={path}
        kpi={base.kpi}
        sigma={base.segments.at(-1)?.sigma ?? null}
        saving={acts.saving}
        error={acts.changeError}
        onSave={(changes) => acts.changeDetails(changes, onClose)}
        mayDelete={may.own}
        deleting={acts.remove.isPending}
        deleteError={acts.remove.error}
        onDelete={(name) =>
          acts.remove.mutate(
            { name, revision: saved.kpi.revision },
            { onSuccess: () => navigate(`/${path.workspace}`) },
          )
        }
      />
    </Modal>
  )
}
