import { Loader, Modal } from '@mantine/core'
import { Notice } from '../shared/Notice.tsx'
import { moment } from '../shared/writing.ts'
import { usePageHistory } from './pages.ts'

/** What was done to a page, newest first, and what of it was undone. */
export function PageHistory({
  workspace,
  number,
  onClose,
}: {
  workspace: string
  number: number
  onClose: () => void
}) {
  const acts = usePageHistory(workspace, number, true)
  return (
    <Modal opened onClose={onClose} title="History" closeButtonProps={{ 'aria-label': 'Close' }}>
      {acts.isPending && <Loader role="status" aria-label="Loading" />}
      {acts.error && <Notice error={acts.error} retry={acts.refetch} />}
      {acts.data?.length === 0 && <p>Nothing was done to it since it was made.</p>}
      <ul>
        {acts.data?.map((act) => (
          <li key={act.id}>
            {act.summary}
            {act.undone && ' (undone)'}{' '}
            <span className="quiet">
              {act.author}, {moment(act.at)}
            </span>
          </li>
        ))}
      </ul>
    </Modal>
  )
}
