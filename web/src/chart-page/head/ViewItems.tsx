import { Menu } from '@mantine/core'
import { useChartSession } from '../session/ChartSession.tsx'
import { useShown } from '../session/useShown.ts'
import { useLookNow } from './useLookNow.ts'

/** What the menu of views holds. */
export default function ViewItems({ onName }: { onName: () => void }) {
  const { look, state, dispatch, saved, acts, may } = useChartSession()
  const { view } = useShown()
  const lookNow = useLookNow()
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
      {may.edit && <Menu.Item onClick={onName}>Keep what is shown as a view…</Menu.Item>}
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
    </>
  )
}
