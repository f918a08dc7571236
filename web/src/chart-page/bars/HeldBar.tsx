import { useChartSession } from '../session/ChartSession.tsx'
import { AsideBar } from './AsideBar.tsx'
import { BaselineBar } from './BaselineBar.tsx'
import { ShiftBar } from './ShiftBar.tsx'

/** What is in the hand, above the chart, with its ways out. */
export function HeldBar() {
  const { dispatch, base, drawn, held, previewing, acts } = useChartSession()
  const preview = previewing ? drawn : null
  const onCancel = () => dispatch({ type: 'drop' })
  switch (held?.kind) {
    case 'shift':
      // A new shift is reviewed beside the chart.
      return held.draft.from === null || held.dragging ? null : (
        <ShiftBar
          chart={base}
          draft={held.draft}
          preview={preview}
          saving={acts.saving}
          onKeep={() => acts.keepShift(held.draft)}
          onCancel={onCancel}
        />
      )
    case 'aside':
      return (
        <AsideBar
          saved={base}
          preview={preview}
          draft={held.draft}
          saving={acts.settingAside}
          onChange={(draft) => dispatch({ type: 'edit aside', draft })}
          onKeep={() => acts.keepAside(held.draft)}
          onCancel={onCancel}
          onUndo={acts.undo.act}
        />
      )
    case 'baseline':
      return (
        <BaselineBar
          chart={base}
          preview={preview}
          draft={held.draft}
          saving={acts.saving}
          onKeep={() => acts.keepBaseline(held.draft)}
          onCancel={onCancel}
        />
      )
    // Its card is open over the chart.
    case 'line':
    case undefined:
      return null
  }
}
