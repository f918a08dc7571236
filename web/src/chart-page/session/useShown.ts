// Which lines of a chart are shown: as they are kept, as in a named view, or as a person adjusts it.
import { useLocalStorage } from '@mantine/hooks'
import { useMemo } from 'react'
import type { Chart, Shown } from '../../chart/model/types.ts'
import { OWN_LINES, shownBut, withHidden } from '../../chart/model/views.ts'
import { useChartSession } from './ChartSession.tsx'
import { shownLines } from './lines.ts'

export function useShown() {
  const { look, state, dispatch, saved, drawn, acts } = useChartSession()
  const [kept, setKept] = useLocalStorage(shownLines)
  const view = saved.views.find(({ name }) => name === look.viewName) ?? null
  const hidden = view && (state.adjusted ?? view.hidden)

  const shown = useMemo<Shown>(() => (hidden ? shownBut(hidden) : kept), [hidden, kept])
  const chart = useMemo<Chart>(() => (hidden ? withHidden(drawn, hidden) : drawn), [drawn, hidden])

  return {
    view,
    shown,
    chart,
    /** All that is hidden now, by name: what a view of it would keep. */
    hidden: [
      ...OWN_LINES.filter((name) => !shown[name]),
      ...chart.lines.filter((line) => line.hidden).map((line) => line.key),
    ],
    /** Shows or hides something: of the chart for everybody, of a view for oneself until it is saved. */
    toggle: (name: string, hide: boolean) => {
      if (hidden) {
        const others = hidden.filter((other) => other !== name)
        dispatch({ type: 'adjust view', hidden: hide ? [...others, name] : others })
      } else if (OWN_LINES.some((own) => own === name)) setKept({ ...kept, [name]: !hide })
      else acts.changeLine(name, { hidden: hide })
    },
  }
}
