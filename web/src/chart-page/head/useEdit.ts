import { Problem } from '../../api/client.ts'
import { useChartSession } from '../session/ChartSession.tsx'

/** What of a KPI is edited in its head: how each is kept, and why it could not be. */
export function useEdit() {
  const { acts } = useChartSession()
  const { changeError } = acts
  const error =
    changeError instanceof Problem ? `${changeError.message} ${changeError.summary}`.trim() : null
  return (name: 'name' | 'unit' | 'group' | 'direction') => ({
    saving: acts.saving,
    error,
    onSave: (value: string, done?: () => void) => acts.changeDetails({ [name]: value }, done),
  })
}
