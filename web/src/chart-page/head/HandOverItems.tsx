import { Menu } from '@mantine/core'
import {
  IconCopy,
  IconFileText,
  IconFileTypeCsv,
  IconFileTypePng,
  IconFileTypeSvg,
  IconLink,
  IconPresentation,
} from '@tabler/icons-react'
import type { RefObject } from 'react'
import { Link } from 'react-router'
import type { Chart } from '../../chart/model/types.ts'
import { notifyProblem } from '../../shared/notifications.tsx'
import { subtitle } from '../../shared/writing.ts'
import type { KpiPath, View } from '../data/chart.ts'

export interface HandOverProps {
  path: KpiPath
  view: View
  viewName: string | null
  chart: Chart
  svg: RefObject<SVGSVGElement | null>
  mayShare: boolean
}

interface Acts {
  onReport: () => void
  onLink: () => void
}

/** The ways to show a chart to others. */
export default function HandOverItems(props: HandOverProps & Acts) {
  const { path, view, viewName, chart, svg, mayShare, onReport, onLink } = props
  const query = new URLSearchParams()
  if (view.by) query.set('by', view.by)
  if (view.breakdown) query.set('breakdown', view.breakdown)
  const csv = `/api/v1/workspaces/${path.workspace}/kpis/${path.kpi}/analysis.csv?${query}`
  const words = {
    title: chart.kpi.name,
    subtitle: subtitle(chart),
    headline: chart.sentence.headline,
  }
  const { headline, detail } = chart.sentence

  async function drawn(kind: 'svg' | 'png'): Promise<Blob> {
    if (!svg.current) throw new Error('The picture could not be made.')
    const { asPng, standAloneSvg } = await import('../../chart/export.ts')
    const markup = await standAloneSvg(svg.current, words)
    return kind === 'png' ? asPng(markup) : new Blob([markup], { type: 'image/svg+xml' })
  }
  async function picture(kind: 'svg' | 'png') {
    try {
      const { download } = await import('../../chart/export.ts')
      download(await drawn(kind), `${path.kpi}.${kind}`)
    } catch (error) {
      notifyProblem(error instanceof Error ? error : new Error('The picture could not be made.'))
    }
  }
  // What copies is loaded when it is asked for; the picture begins to be drawn at once.
  const copying = () => import('../../shared/copying.ts')

  return (
    <>
      <Menu.Item
        component={Link}
        to={`/${path.workspace}/meeting?kpi=${path.kpi}${viewName ? `&view=${encodeURIComponent(viewName)}` : ''}`}
        leftSection={<IconPresentation size={16} />}
      >
        Show in a meeting
      </Menu.Item>
      <Menu.Item leftSection={<IconFileText size={16} />} onClick={onReport}>
        Report, slides, workbook…
      </Menu.Item>
      {mayShare && (
        <Menu.Item leftSection={<IconLink size={16} />} onClick={onLink}>
          Link for people without an account…
        </Menu.Item>
      )}
      <Menu.Divider />
      <Menu.Item
        leftSection={<IconCopy size={16} />}
        onClick={async () => (await copying()).copyPicture(drawn('png'))}
      >
        Copy picture
      </Menu.Item>
      <Menu.Item
        leftSection={<IconCopy size={16} />}
        onClick={async () =>
          (await copying()).copyText('sentence', [headline, detail].filter(Boolean).join(' '))
        }
      >
        Copy sentence
      </Menu.Item>
      <Menu.Item
        leftSection={<IconCopy size={16} />}
        onClick={async () => (await copying()).copyTable(csv)}
      >
        Copy table
      </Menu.Item>
      <Menu.Divider />
      <Menu.Item
        component="a"
        href={csv}
        download={`${path.kpi}.csv`}
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
    </>
  )
}
