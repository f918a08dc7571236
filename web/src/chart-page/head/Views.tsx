import { Button, Menu } from '@mantine/core'
import { IconChevronDown } from '@tabler/icons-react'
import { lazy, Suspense, useState } from 'react'
import { useChartSession } from '../session/ChartSession.tsx'
import { useShown } from '../session/useShown.ts'

const Naming = lazy(async () => ({ default: (await import('./ViewName.tsx')).ViewName }))

/** Ways of looking at a chart that are kept by name: chosen, kept, saved, removed. */
export function Views() {
  const { look, state, dispatch, saved, acts, may } = useChartSession()
  const { view, hidden } = useShown()
  const [naming, setNaming] = useState(false)
  if (state.trial) return null
  const lookNow = {
    hidden,
    by: look.view.by ?? null,
    breakdown: look.breakdown,
    first: look.stretch?.first ?? null,
    last: look.stretch?.last ?? null,
  }
  function open(name: string | null) {
    const chosen = saved.views.find((view) => view.name === name)
    dispatch({ type: 'adjust view', hidden: null })
    look.show({
      view: name,
      by: chosen?.by ?? null,
      of: chosen?.breakdown ?? null,
      from: chosen?.first ?? null,
      to: chosen?.last ?? null,
    })
  }
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
          <Menu.RadioGroup value={view?.name ?? ''} onChange={(name) => open(name || null)}>
            <Menu.RadioItem value="">As the chart is kept</Menu.RadioItem>
            {saved.views.map(({ name }) => (
              <Menu.RadioItem key={name} value={name}>
                {name}
              </Menu.RadioItem>
            ))}
          </Menu.RadioGroup>
          {(state.adjusted || may.edit) && <Menu.Divider />}
          {state.adjusted && (
            <Menu.Item onClick={() => dispatch({ type: 'adjust view', hidden: null })}>
              Show {view?.name} as it is kept
            </Menu.Item>
          )}
          {view && may.edit && (
            <Menu.Item
              onClick={() =>
                acts.keepView({ name: view.name, ...lookNow }, () =>
                  dispatch({ type: 'adjust view', hidden: null }),
                )
              }
            >
              Save {view.name} as it is shown now
            </Menu.Item>
          )}
          {may.edit && (
            <Menu.Item onClick={() => setNaming(true)}>Keep what is shown as a view…</Menu.Item>
          )}
          {view && may.edit && (
            <Menu.Item
              onClick={() => {
                acts.removeView(view.name)
                open(null)
              }}
            >
              Remove {view.name}
            </Menu.Item>
          )}
        </Menu.Dropdown>
      </Menu>
      {naming && (
        <Suspense>
          <Naming
            taken={saved.views.map(({ name }) => name.toLowerCase())}
            saving={acts.saving}
            onClose={() => setNaming(false)}
            onKeep={(name) =>
              acts.keepView({ name, ...lookNow }, () => {
                setNaming(false)
                look.show({
                  view: name,
                  by: lookNow.by,
                  of: lookNow.breakdown,
                  from: lookNow.first,
                  to: lookNow.last,
                })
              })
            }
          />
        </Suspense>
      )}
    </>
  )
}
