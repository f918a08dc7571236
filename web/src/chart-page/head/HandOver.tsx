import { Button, Menu } from '@mantine/core'
import { lazy, Suspense, useState } from 'react'
import type { HandOverProps } from './HandOverItems.tsx'

// What the menu holds comes when it is opened.
const HandOverItems = lazy(() => import('./HandOverItems.tsx'))
const NewReport = lazy(async () => ({
  default: (await import('../../reports/NewReport.tsx')).NewReport,
}))

const NewLink = lazy(async () => ({
  default: (await import('../../links/NewLink.tsx')).NewLink,
}))

/** The ways to show a chart to others: in a meeting, as a report, a picture, a table, in words. */
export function HandOver({ path, view, viewName, chart, svg, mayShare }: HandOverProps) {
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
              {...{ path, chart, view, viewName, svg, mayShare }}
              onReport={() => setMaking(true)}
              onLink={() => setLinking(true)}
            />
          </Suspense>
        </Menu.Dropdown>
      </Menu>
      {linking && (
        <Suspense>
          <NewLink
            workspace={path.workspace}
            named={{
              kind: 'chart',
              kpi: path.kpi,
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
            workspace={path.workspace}
            start={{
              scope: 'kpis',
              kpis: [path.kpi],
              title: chart.kpi.name,
              ...(viewName ? { views: { [path.kpi]: viewName } } : {}),
            }}
            onClose={() => setMaking(false)}
          />
        </Suspense>
      )}
    </>
  )
}
