import { Loader } from '@mantine/core'
import type { Panel } from '../panels/face.ts'
import { PanelBody } from '../panels/PanelBody.tsx'
import { usePanels } from '../panels/panels.ts'
import { Notice } from '../shared/Notice.tsx'

const ALL_DATES = {}

/** A comparison as a page shows it, alone on the screen. */
export function PanelShown({ workspace, panel }: { workspace: string; panel: Panel }) {
  const shown = usePanels(workspace, [panel], ALL_DATES)
  const content = shown.data?.get(panel.key)
  if (shown.error) return <Notice error={shown.error} retry={shown.refetch} />
  if (!content) return <Loader role="status" aria-label="Loading" />
  return (
    <PanelBody
      {...{ workspace, panel, content }}
      dates={ALL_DATES}
      axis={null}
      onReach={() => undefined}
    />
  )
}
