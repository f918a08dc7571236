import type { Panel } from '../panels/face.ts'
import { PanelShown } from '../panels/PanelShown.tsx'
import { usePanels } from '../panels/panels.ts'

const ALL_DATES = {}

/** A comparison as a page shows it, alone on the screen. */
export function Comparison({ workspace, panel }: { workspace: string; panel: Panel }) {
  return (
    <PanelShown
      query={usePanels(workspace, [panel], ALL_DATES)}
      {...{ workspace, panel }}
      dates={ALL_DATES}
      axis={null}
      onReach={() => undefined}
    />
  )
}
