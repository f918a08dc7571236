import { Button, Menu } from '@mantine/core'
import { IconChevronDown } from '@tabler/icons-react'
import { lazy, Suspense, useState } from 'react'
import { useChartSession } from '../session/ChartSession.tsx'
import { useShown } from '../session/useShown.ts'

// What the menu holds comes when it is opened.
const ViewItems = lazy(() => import('./ViewItems.tsx'))
const ViewName = lazy(() => import('./ViewName.tsx'))

/** Ways of looking at a chart that are kept by name: chosen, kept, saved, removed. */
export function Views() {
  const { state } = useChartSession()
  const { view } = useShown()
  const [naming, setNaming] = useState(false)
  if (state.trial) return null
  return (
    <>
      <Menu position="bottom-end">
        <Menu.Target>
          <Button
            variant="subtle"
            color="gray"
            c="var(--quiet)"
            size="compact-sm"
            rightSection={<IconChevronDown size={14} aria-hidden />}
          >
            {view ? `View: ${view.name}` : 'Views'}
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Suspense>
            <ViewItems onName={() => setNaming(true)} />
          </Suspense>
        </Menu.Dropdown>
      </Menu>
      {naming && (
        <Suspense>
          <ViewName onClose={() => setNaming(false)} />
        </Suspense>
      )}
    </>
  )
}
