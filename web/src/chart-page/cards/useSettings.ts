import { useState } from 'react'
import { differences } from '../../shared/differences.ts'
import type { Settings } from '../data/chart.ts'
import { useChartSession } from '../session/ChartSession.tsx'

/**
 * Settings of a KPI in a card beside its chart: each change shows there at once, and none is kept
 * before it is saved.
 */
export function useSettings<S extends Settings>(now: S) {
  const { dispatch, acts } = useChartSession()
  const [opened] = useState(now)
  const [settings, setSettings] = useState(now)
  const [sent, setSent] = useState(false)
  const changes: Settings = differences(opened, settings)
  return {
    settings,
    set: (more: Partial<S>) => {
      const next = { ...settings, ...more }
      setSettings(next)
      dispatch({ type: 'edit settings', changes: differences(opened, next) })
    },
    changed: Object.keys(changes).length > 0,
    save: () => {
      setSent(true)
      acts.changeDetails(changes, () => dispatch({ type: 'close' }))
    },
    saving: acts.saving,
    /** Why what was sent last could not be kept. */
    error: sent ? acts.changeError : null,
  }
}
