import { ActionIcon, Button, NativeSelect } from '@mantine/core'
import { IconPencil, IconTrash } from '@tabler/icons-react'
import { type KeyboardEvent, Suspense, useState } from 'react'
import ReactGridLayout, { type Layout, useContainerWidth } from 'react-grid-layout'
import 'react-grid-layout/css/styles.css'
import type { Answers, Content, Panel } from '../panels/face.ts'
import { FACES } from '../panels/faces.ts'
import { PanelShown } from '../panels/PanelShown.tsx'
import panels from '../panels/Panels.module.css'
import { datesSent, usePanels } from '../panels/panels.ts'
import { DatePicker } from '../shared/looking/DatePicker.tsx'
import { type DatesAsked, DEFAULT_WEEKS } from '../shared/looking/useDates.ts'
import { COLUMNS, movedPanel, resized, STEPS, samePlace, settled, stacked } from './arrange.ts'
import classes from './Pages.module.css'
import type { PageDetail } from './pages.ts'

/** Pixels of a row of the grid, and between panels. */
const ROW = 36
const GAP = 14
/** Below so many pixels panels stand under each other. */
const NARROW = 680

interface Props {
  workspace: string
  page: PageDetail
  dates: DatesAsked
  arranging: boolean
  onPanels: (panels: Panel[]) => void
  onWrite: (key: string) => void
}

/** The panels of a page in its grid, which shows only while they are arranged. */
export function Sheet({ workspace, page, dates, arranging, onPanels, onWrite }: Props) {
  const { width, containerRef, mounted } = useContainerWidth({ initialWidth: 1000 })
  const [said, setSaid] = useState('')
  const [reaches, setReaches] = useState<Record<string, Reach>>({})
  const contents = usePanels(workspace, page.panels, dates)
  const narrow = width < NARROW
  const layout: Layout = narrow
    ? stacked(page.panels, ({ kind }) => FACES[kind].taller ?? 0)
    : page.panels.map(({ key, x, y, w, h }) => ({ i: key, x, y, w, h, minH: 2 }))
  const common = page.equal_axes ? commonOf(page.panels, reaches) : {}

  function arranged(next: Layout) {
    if (narrow) return
    const cells = new Map(next.map((item) => [item.i, item]))
    const panels = page.panels.map((panel) => {
      const at = cells.get(panel.key)
      return at ? { ...panel, x: at.x, y: at.y, w: at.w, h: at.h } : panel
    })
    if (panels.some((panel, n) => !samePlace(panel, page.panels[n]))) onPanels(panels)
  }

  function onKey(event: KeyboardEvent<HTMLElement>, panel: Panel) {
    if (!arranging || event.target !== event.currentTarget) return
    if (event.key === 'Delete' || event.key === 'Backspace') return remove(panel)
    const by = STEPS[event.key]
    if (!by) return
    event.preventDefault()
    const moved = event.shiftKey ? resized(panel, by) : movedPanel(panel, by, page.panels)
    const others = page.panels.filter((one) => one !== panel)
    setSaid(
      `Column ${moved.x + 1}, row ${moved.y + 1}, ${moved.w} wide, ${moved.h} high. ${others.length} others give way.`,
    )
    onPanels(
      settled(
        page.panels.map((one) => (one === panel ? moved : one)),
        moved,
      ),
    )
  }

  const change = (panel: Panel, changes: Partial<Panel>) =>
    onPanels(page.panels.map((one) => (one === panel ? { ...panel, ...changes } : one)))
  const remove = (panel: Panel) => onPanels(page.panels.filter((one) => one !== panel))

  return (
    <div ref={containerRef}>
      <div className="unseen" aria-live="polite">
        {said}
      </div>
      {arranging && (
        <p className={panels.detail}>
          Drag panels, or press Tab to reach one: arrow keys move it, Shift and arrow keys make it
          larger or smaller, Delete removes it.
        </p>
      )}
      {mounted && page.panels.length > 0 && (
        <ReactGridLayout
          width={width}
          layout={layout}
          gridConfig={{
            cols: narrow ? 1 : COLUMNS,
            rowHeight: ROW,
            margin: [28, GAP],
            containerPadding: [0, 0],
          }}
          dragConfig={{ enabled: arranging && !narrow, cancel: 'button, a, input, select' }}
          resizeConfig={{ enabled: arranging && !narrow }}
          onDragStop={(next) => arranged(next)}
          onResizeStop={(next) => arranged(next)}
        >
          {page.panels.map((panel) => (
            <section
              key={panel.key}
              aria-label={panel.names.join(' and ') || panel.group || FACES[panel.kind].noun}
              data-panel={panel.key}
              tabIndex={arranging ? 0 : undefined}
              onKeyDown={(event) => onKey(event, panel)}
            >
              <div className={classes.panel}>
                {arranging && (
                  <header>
                    <span className={panels.own}>{FACES[panel.kind].noun}</span>
                    <span className={classes.acts}>
                      <OwnView
                        panel={panel}
                        content={contents.data?.get(panel.key)}
                        onView={(view) => change(panel, { view })}
                      />
                      {!FACES[panel.kind].written && (
                        <OwnDates panel={panel} onDates={(own) => change(panel, { dates: own })} />
                      )}
                      {FACES[panel.kind].written && (
                        <ActionIcon
                          variant="subtle"
                          size="sm"
                          aria-label="Write the text"
                          onClick={() => onWrite(panel.key)}
                        >
                          <IconPencil size={15} />
                        </ActionIcon>
                      )}
                      <ActionIcon
                        variant="subtle"
                        size="sm"
                        aria-label={`Remove ${panel.names.join(' and ') || FACES[panel.kind].noun}`}
                        onClick={() => remove(panel)}
                      >
                        <IconTrash size={15} />
                      </ActionIcon>
                    </span>
                  </header>
                )}
                <Suspense>
                  <PanelShown
                    {...{ workspace, panel, dates }}
                    query={contents}
                    axis={common[panel.key] ?? null}
                    onReach={(unit, [low, high]) =>
                      setReaches((all) => ({ ...all, [panel.key]: { unit, low, high } }))
                    }
                  />
                </Suspense>
              </div>
            </section>
          ))}
        </ReactGridLayout>
      )}
    </div>
  )
}

/** The view that a chart is shown in, of those that its KPI has. */
function OwnView({
  panel,
  content,
  onView,
}: {
  panel: Panel
  content: Content | undefined
  onView: (view: string) => void
}) {
  const answer = content?.kind === 'chart' ? (content.answer as Answers['chart'] | null) : null
  const names = answer?.chart.views.map(({ name }) => name) ?? []
  if (names.length === 0) return null
  // One that has gone is shown as the chart is.
  const view = names.includes(panel.view) ? panel.view : ''
  return (
    <NativeSelect
      size="xs"
      aria-label={`View of ${panel.names[0]}`}
      data={[{ value: '', label: 'As its chart is' }, ...names]}
      value={view}
      onChange={(event) => onView(event.currentTarget.value)}
    />
  )
}

/** Dates of a panel's own, or those of the page. */
function OwnDates({ panel, onDates }: { panel: Panel; onDates: (dates: Panel['dates']) => void }) {
  if (!panel.dates)
    return (
      <Button
        size="compact-xs"
        variant="subtle"
        onClick={() => onDates({ first: null, last: null, weeks: DEFAULT_WEEKS })}
      >
        Dates of its own
      </Button>
    )
  const { first, last } = panel.dates
  return (
    <>
      <DatePicker
        dates={datesSent(panel.dates)}
        shown={first && last ? [first, last] : null}
        onChange={(own) =>
          onDates({ first: own.first ?? null, last: own.last ?? null, weeks: own.weeks ?? null })
        }
      />
      <Button size="compact-xs" variant="subtle" onClick={() => onDates(null)}>
        As the page
      </Button>
    </>
  )
}

/** How far a chart reaches, in its unit. */
interface Reach {
  unit: string
  low: number
  high: number
}

/** One axis for all charts of a unit, where axes are to be equal. */
function commonOf(panels: Panel[], reaches: Record<string, Reach>) {
  const axes: Record<string, readonly [number, number]> = {}
  for (const { key } of panels) {
    const { unit } = reaches[key] ?? {}
    const alike = Object.values(reaches).filter((reach) => reach.unit === unit)
    if (unit === undefined || alike.length < 2) continue
    axes[key] = [
      Math.min(...alike.map(({ low }) => low)),
      Math.max(...alike.map(({ high }) => high)),
    ]
  }
  return axes
}
