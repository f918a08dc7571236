import { Button, Menu } from '@mantine/core'
import { IconFileTypeCsv, IconFileTypePng, IconFileTypeSvg } from '@tabler/icons-react'
import type { RefObject } from 'react'
import type { Chart } from '../../chart/model/types.ts'
import { notifyProblem } from '../../shared/notifications.tsx'
import { subtitle } from '../../shared/writing.ts'
import type { Place, View } from '../data/chart.ts'

interface Props {
  place: Place
  view: View
  chart: Chart
  svg: RefObject<SVGSVGElement | null>
}

/** The analysis as a table, the chart as a picture. */
export function ExportMenu({ place, view, chart, svg }: Props) {
  const query = new URLSearchParams()
  if (view.by) query.set('by', view.by)
  if (view.breakdown) query.set('breakdown', view.breakdown)
  async function picture(kind: 'svg' | 'png') {
    if (!svg.current) return
    try {
      const { asPng, download, standAloneSvg } = await import('../../chart/export.ts')
      const drawn = await standAloneSvg(svg.current, {
        title: chart.kpi.name,
        subtitle: subtitle(chart),
        headline: chart.sentence.headline,
      })
      const blob =
        kind === 'png' ? await asPng(drawn) : new Blob([drawn], { type: 'image/svg+xml' })
      download(blob, `${place.kpi}.${kind}`)
    } catch (error) {
      notifyProblem(error instanceof Error ? error : new Error('The picture could not be made.'))
    }
  }

  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <Button variant="default">Export</Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item
          component="a"
          href={`/api/v1/workspaces/${place.workspace}/kpis/${place.kpi}/analysis.csv?${query}`}
          download={`${place.kpi}.csv`}
          leftSection={<IconFileTypeCsv size={16} />}
        >
          Analysis as CSV
        </Menu.Item>
        <Menu.Item leftSection={<IconFileTypeSvg size={16} />} onClick={() => picture('svg')}>
          Chart as SVG
        </Menu.Item>
        <Menu.Item leftSection={<IconFileTypePng size={16} />} onClick={() => picture('png')}>
          Chart as PNG
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  )
}
