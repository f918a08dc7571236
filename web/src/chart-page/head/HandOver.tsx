import { Button, Menu } from '@mantine/core'
import { lazy, type RefObject, Suspense, useState } from 'react'
import type { Chart } from '../../chart/model/types.ts'
import type { Place, View } from '../data/chart.ts'

// What the menu holds comes when it is opened.
const HandOverItems = lazy(() => import('./HandOverItems.tsx'))
const NewReport = lazy(async () => ({
  default: (await import('../../reports/NewReport.tsx')).NewReport,
}))

const NewLink = lazy(async () => ({
  default: (await import('../../links/NewLink.tsx')).NewLink,
}))

export interface Props {
  place: Place
  view: View
  viewName: string | null
  chart: Chart
  svg: RefObject<SVGSVGElement | null>
  mayShare: boolean
}

/** The ways to show a chart to others: in a meeting, as a report, a picture, a table, in words. */
export function HandOver({ place, view, viewName, chart, svg, mayShare }: Props) {
  const [making, setMaking] = useState(false)
  const [linking, setLinking] = useState(false)
  return (
    <>
      <Menu position="bottom-end">
        <Menu.Target>
          <Button variant="default">Hand over</Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Suspense>
            <HandOverItems
              {...{ place, chart, view, viewName, svg, mayShare }}
              onReport={() => setMaking(true)}
              onLink={() => setLinking(true)}
            />
          </Suspense>
        </Menu.Dropdown>
      </Menu>
      {linking && (
        <Suspense>
          <NewLink
            workspace={place.workspace}
            named={{
              kind: 'chart',
              kpi: place.kpi,
              view: viewName ?? '',
              title: viewName ? `${chart.kpi.name}, ${viewName}` : chart.kpi.name,
            }}
            onClose={() => setLinking(false)}
          />
        </Suspense>
      )}
      {making && (
        <Suspense>
          <NewReport
            workspace={place.workspace}
            start={{
              scope: 'kpis',
              kpis: [place.kpi],
              title: chart.kpi.name,
              ...(viewName ? { views: { [place.kpi]: viewName } } : {}),
            }}
            onClose={() => setMaking(false)}
          />
        </Suspense>
      )}
    </>
  )
}
