import { ActionIcon, Button, Modal, Popover, Skeleton, Tooltip } from '@mantine/core'
import { useDisclosure, useHotkeys, useLocalStorage, useViewportSize } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { IconArrowBackUp, IconArrowForwardUp } from '@tabler/icons-react'
import { type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { Notice } from '../app/Notice.tsx'
import { ChartView } from '../chart/ChartView.tsx'
import { periodInText, subtitle } from '../chart/format.ts'
import { NARROW } from '../chart/geometry.ts'
import type { Grain, Shown } from '../chart/types.ts'
import { walk } from '../chart/walk.ts'
import { NextValue } from '../values/NextValue.tsx'
import { AsideBar, type AsideDraft } from './AsideBar.tsx'
import classes from './ChartPage.module.css'
import { Chips } from './Chips.tsx'
import {
  keptLimitsBut,
  segmentSettings,
  useChart,
  useChartActs,
  usePreview,
  type View,
} from './chart.ts'
import { boundsOf, Dates, type Stretch } from './Dates.tsx'
import { ExportMenu } from './ExportMenu.tsx'
import { Findings } from './Findings.tsx'
import { KpiDetails } from './KpiDetails.tsx'
import { useKpis } from './kpis.ts'
import { PointsTable } from './PointsTable.tsx'
import { SegmentCard } from './SegmentCard.tsx'
import { ShiftBar } from './ShiftBar.tsx'
import { ShiftReview } from './ShiftReview.tsx'
import { type Draft, segmentsWith, useShift } from './shift.ts'
import { TargetCard } from './TargetCard.tsx'

/** What is open over the chart, and where. */
type Card =
  | { kind: 'segment'; number: number; x: number; y: number }
  | { kind: 'target'; x: number; y: number }

const TAKEN = 'There is a shift at this point already. Choose another point.'

export function ChartPage() {
  const { workspace = '', kpi = '' } = useParams()
  // A page of its own for each KPI: nothing chosen on one carries over to the next.
  return <KpiChart key={`${workspace} ${kpi}`} workspace={workspace} kpi={kpi} />
}

function KpiChart({ workspace, kpi }: { workspace: string; kpi: string }) {
  const place = { workspace, kpi }
  const kpis = useKpis(workspace)
  const row = kpis.data?.find((one) => one.slug === kpi)
  const navigate = useNavigate()
  const viewport = useViewportSize()
  const [stretch, setStretch] = useState<Stretch | null>(null)
  // Rounded, so that a scrollbar that comes and goes asks for nothing new.
  const width = Math.max(300, Math.round((viewport.width || 1280) / 100) * 100)
  const [asked, setAsked] = useSearchParams()
  const by = asked.get('by') as Grain | null
  const breakdown = asked.get('of')
  const view: View = {
    width,
    ...(stretch ? boundsOf(stretch) : {}),
    ...(by ? { by } : {}),
    ...(breakdown ? { breakdown } : {}),
  }
  const chart = useChart(place, view)
  const saved = chart.data
  const acts = useChartActs(place, view, saved?.kpi.revision ?? 0)
  const shift = useShift(saved, { keep: keepShift })
  const { draft } = shift
  // Without its name, which changes no number: typing it asks for no new preview.
  const drafted =
    saved && draft ? segmentsWith(saved, { ...draft, name: '', what_changed: '' }) : null
  const [aside, setAside] = useState<AsideDraft | null>(null)
  const preview = usePreview(
    place,
    view,
    drafted
      ? { segments: drafted }
      : aside && { aside: { [aside.period]: aside.back ? null : 'to be set aside' } },
  )
  const [selected, setSelected] = useState<number | null>(null)
  const [card, setCard] = useState<Card | null>(null)
  const [details, detailsModal] = useDisclosure()
  const [shown, setShown] = useLocalStorage<Shown>({
    key: 'fluctus-lines',
    defaultValue: { average: true, limits: true, target: true },
  })
  const svg = useRef<SVGSVGElement>(null)

  useEffect(() => {
    document.title = `${saved?.kpi.name ?? 'Chart'} · Fluctus`
  }, [saved])

  const busy =
    acts.aside.isPending || acts.change.isPending || acts.undo.isPending || acts.redo.isPending
  const undo = () => saved?.history.undo && !busy && !draft && !aside && acts.undo.mutate()
  const redo = () => saved?.history.redo && !busy && !draft && !aside && acts.redo.mutate()
  useHotkeys([
    ['mod+Z', undo],
    ['mod+shift+Z', redo],
  ])

  function keepShift(kept: Draft) {
    const segments = saved && segmentsWith(saved, kept)
    if (acts.change.isPending) return
    if (!segments) {
      shift.setDraft(null)
      notifications.show({ message: TAKEN })
      return
    }
    const decided = keptLimitsBut(kept.period, saved)
    const reopened = decided.length < saved.kept_limits.length
    acts.change.mutate(
      { segments, ...(reopened ? { kept_limits: decided } : {}) },
      {
        onSuccess: () =>
          notifications.show({
            message: `Limits recalculated from ${periodInText(kept.period, saved.kpi.grain)}.`,
            autoClose: 4000,
          }),
        // A refused shift goes back to where it was; the notice has said why.
        onSettled: () => shift.setDraft(null),
      },
    )
  }

  if (chart.isPending) return <Loading name={row?.name} />
  if (chart.error || !saved) return <Notice error={chart.error} retry={chart.refetch} />

  const shifting = draft !== null && drafted !== null
  // What was previewed last is no preview of a point that has just been chosen.
  const previewing =
    preview.data !== undefined && (shifting || (aside !== null && !preview.isPlaceholderData))
  const drawn = previewing && preview.data ? preview.data : saved
  // The segment whose start is nowhere in the saved chart: a preview can be a step behind the hand.
  const number = drawn.segments.findIndex(
    (one) => !saved.segments.some((kept) => kept.start === one.start),
  )
  const narrow = viewport.width < NARROW
  const height = narrow ? 430 : Math.max(400, Math.min(620, viewport.height - 334))
  const newest = row?.latest_period?.slice(0, 10) ?? ''
  // Shifts are put where the values are stored; another grain, or a part, only shows them.
  const whole = !breakdown && saved.kpi.grain === saved.kpi.stored_grain

  /** Shows another grain or breakdown; what was chosen on this one holds no longer. */
  function look(changes: { by?: string | null; of?: string | null }) {
    const next = new URLSearchParams(asked)
    for (const [name, value] of Object.entries(changes)) {
      if (value) next.set(name, value)
      else next.delete(name)
    }
    setStretch(null)
    setSelected(null)
    setCard(null)
    setAsked(next, { replace: true })
  }

  function removeShift(at: number) {
    const segments = segmentSettings(saved as typeof drawn).filter((_, n) => n !== at)
    acts.change.mutate({ segments }, { onSuccess: () => setCard(null) })
  }

  function placeAt(position: number) {
    if (!whole) {
      notifications.show({
        message: `Shifts are put on the whole by ${saved?.kpi.stored_grain}. Show that first.`,
      })
      return
    }
    if (shift.begin(position)) {
      setCard(null)
    } else {
      notifications.show({
        message:
          position === 0
            ? 'The first value has nothing before it to shift from. Choose a later point.'
            : TAKEN,
      })
    }
  }

  /** Records that a process has not shifted, and why; the limits stay as they are. */
  function keepLimits(draft: Draft, reason: string) {
    const { period, review } = draft
    if (!saved) return
    acts.change.mutate(
      { kept_limits: [...keptLimitsBut(period, saved), { period, reason, review }] },
      { onSettled: () => shift.setDraft(null) },
    )
  }

  /** Takes up a review again that ended with the limits kept. */
  function reopen(kept: (typeof drawn.kept_limits)[number]) {
    const index = saved?.points.period.indexOf(kept.period) ?? -1
    const position = saved?.points.position[index]
    const { reason, review = {} } = kept
    if (position === undefined || !shift.begin(position, { what_changed: reason, review }))
      notifications.show({ message: 'There is no room for a shift at this period any more.' })
  }

  /** Asks to set a point aside, or to put it back where it is aside. */
  function takeAside(position: number) {
    const period = saved?.points.period[saved.points.position.indexOf(position)]
    if (!saved || !period) return
    if (saved.kpi.grain !== saved.kpi.stored_grain) {
      notifications.show({
        message: `Points are set aside by ${saved.kpi.stored_grain}. Show that first.`,
      })
      return
    }
    const back = saved.set_aside.some((one) => one.position === position)
    setCard(null)
    setAside({ position, period, back, reason: '' })
  }

  function keepAside(kept: AsideDraft) {
    acts.aside.mutate(
      { period: kept.period, breakdown, reason: kept.back ? null : kept.reason.trim() },
      { onSettled: () => setAside(null) },
    )
  }

  function onKey(event: KeyboardEvent<HTMLDivElement>) {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const next = walk(drawn, selected, event.key)
    if (next !== undefined) {
      event.preventDefault()
      setSelected(next)
    } else if (event.key.toLowerCase() === 'r' && selected !== null) {
      event.preventDefault()
      placeAt(selected)
    } else if (event.key.toLowerCase() === 'x' && selected !== null) {
      event.preventDefault()
      takeAside(selected)
    }
  }

  return (
    <>
      <header className={classes.head}>
        <h1>{drawn.kpi.name}</h1>
        <span className={`quiet ${classes.subtitle}`} title={subtitle(drawn)}>
          {subtitle(drawn)}
        </span>
        <div className={classes.actions}>
          <Step
            label="Undo"
            does={saved.history.undo}
            act={undo}
            icon={<IconArrowBackUp size={18} />}
          />
          <Step
            label="Redo"
            does={saved.history.redo}
            act={redo}
            icon={<IconArrowForwardUp size={18} />}
          />
          <Button variant="default" onClick={detailsModal.open}>
            Details
          </Button>
          <Button component={Link} variant="default" to={`/${workspace}/charts/${kpi}/values`}>
            Values
          </Button>
          <ExportMenu place={place} view={view} chart={drawn} svg={svg} />
          <Button component={Link} to={`/${workspace}/charts/${kpi}/add`}>
            Add data
          </Button>
        </div>
      </header>
      <div className={classes.sentence} aria-live="polite">
        <p className={classes.headline}>{drawn.sentence.headline}</p>
        <p className={classes.detail}>{drawn.sentence.detail}</p>
      </div>
      <div className={classes.chips}>
        <Chips
          chart={drawn}
          shown={shown}
          onChange={setShown}
          onAddTarget={() => setCard({ kind: 'target', x: 300, y: 20 })}
        />
        <Dates
          chart={saved}
          newest={newest}
          stretch={stretch}
          onChange={setStretch}
          onBy={(one) => look({ by: one === saved.kpi.stored_grain ? null : one })}
          onBreakdown={(one) => look({ of: one })}
          breakdown={breakdown}
        />
      </div>
      {drawn.remarks.map((remark) => (
        <p key={remark} className={classes.remark}>
          {remark}
        </p>
      ))}
      {draft && draft.from !== null && !shift.dragging && (
        <ShiftBar
          chart={saved}
          draft={draft}
          comparison={previewing ? drawn.comparison : null}
          saving={acts.change.isPending}
          onKeep={() => keepShift(draft)}
          onCancel={() => shift.setDraft(null)}
        />
      )}
      {aside && !draft && (
        <AsideBar
          saved={saved}
          preview={previewing ? drawn : null}
          draft={aside}
          saving={acts.aside.isPending}
          onChange={setAside}
          onKeep={() => keepAside(aside)}
          onCancel={() => setAside(null)}
        />
      )}
      {preview.error && (draft || aside) && <Notice error={preview.error} />}
      <div className={classes.stage}>
        <ChartView
          chart={drawn}
          shown={shown}
          height={
            ((draft?.from != null && !shift.dragging) || aside) && !narrow ? height - 58 : height
          }
          previewFrom={
            !previewing
              ? null
              : aside
                ? drawn.segments.findLastIndex((one) => one.first <= aside.position)
                : number > 0
                  ? number - 1
                  : null
          }
          moving={draft && number > 0 ? number : null}
          selected={draft || aside ? null : selected}
          onSelect={setSelected}
          onKey={onKey}
          onPlaceAt={placeAt}
          onOpenSegment={(at, point) => whole && setCard({ kind: 'segment', number: at, ...point })}
          onOpenLine={(line, point) =>
            setCard(
              line === 'target'
                ? { kind: 'target', ...point }
                : { kind: 'segment', number: drawn.segments.length - 1, ...point },
            )
          }
          {...(whole
            ? {
                onHandleDown: shift.onHandleDown,
                onHandleKey: (at, event) => shift.onHandleKey(at, event, () => removeShift(at)),
              }
            : {})}
          svgRef={svg}
        >
          {card && !draft && (
            <Popover
              opened
              onDismiss={() => setCard(null)}
              onClose={() => setCard(null)}
              closeOnEscape
              trapFocus
              returnFocus
              width={310}
              shadow="md"
              withArrow
              withRoles={false}
              position={card.kind === 'segment' ? 'top' : 'left'}
            >
              <Popover.Target>
                <span
                  style={{ position: 'absolute', left: card.x, top: card.y, width: 1, height: 1 }}
                />
              </Popover.Target>
              <Popover.Dropdown
                mah={380}
                style={{ overflowY: 'auto' }}
                role="dialog"
                aria-label={card.kind === 'segment' ? 'Segment' : 'Target'}
                onKeyDown={(event) => event.stopPropagation()}
              >
                {card.kind === 'segment' ? (
                  <SegmentCard
                    chart={saved}
                    fixed={!whole}
                    number={card.number}
                    saving={acts.change.isPending}
                    onSave={(segments) =>
                      acts.change.mutate({ segments }, { onSuccess: () => setCard(null) })
                    }
                    onRemove={() => removeShift(card.number)}
                  />
                ) : (
                  <TargetCard
                    kpi={saved.kpi}
                    saving={acts.change.isPending}
                    onSave={(target) =>
                      acts.change.mutate({ target }, { onSuccess: () => setCard(null) })
                    }
                  />
                )}
              </Popover.Dropdown>
            </Popover>
          )}
        </ChartView>
        {draft && draft.from === null && (
          <ShiftReview
            saved={saved}
            preview={previewing ? drawn : null}
            number={number}
            draft={draft}
            saving={acts.change.isPending}
            onChange={shift.setDraft}
            onDate={shift.moveTo}
            onKeep={() => keepShift(draft)}
            onKeepLimits={(reason) => keepLimits(draft, reason)}
            onCancel={() => shift.setDraft(null)}
          />
        )}
      </div>
      {!draft && saved.next && (saved.kpi.breakdowns.length === 0 || breakdown) && (
        <NextValue place={place} chart={saved} breakdown={breakdown} />
      )}
      {selected !== null && !draft && !aside && (
        <div className={classes.pointActs}>
          <Button size="compact-sm" variant="light" onClick={() => placeAt(selected)}>
            Put a shift at this point
          </Button>
          <Button size="compact-sm" variant="light" onClick={() => takeAside(selected)}>
            {saved.set_aside.some((one) => one.position === selected)
              ? 'Put this point back'
              : 'Set this point aside'}
          </Button>
          <span className="quiet">
            or press <kbd>R</kbd>, <kbd>X</kbd>; <kbd>←</kbd> <kbd>→</kbd> walk the points
          </span>
        </div>
      )}
      <Findings
        chart={drawn}
        onReopen={reopen}
        onSelect={(position) => {
          setSelected(position)
          svg.current?.scrollIntoView({ block: 'nearest' })
        }}
      />
      <PointsTable chart={drawn} />
      <Modal
        opened={details}
        onClose={detailsModal.close}
        title="Details"
        size="lg"
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        <KpiDetails
          place={place}
          kpi={saved.kpi}
          saving={acts.change.isPending}
          error={acts.change.error}
          onSave={(changes) => acts.change.mutate(changes, { onSuccess: detailsModal.close })}
          deleting={acts.remove.isPending}
          deleteError={acts.remove.error}
          onDelete={(name) =>
            acts.remove.mutate(name, { onSuccess: () => navigate(`/${workspace}`) })
          }
        />
      </Modal>
    </>
  )
}

function Step({
  label,
  does,
  act,
  icon,
}: {
  label: string
  does: string | null
  act: () => void
  icon: ReactNode
}) {
  return (
    <Tooltip label={does ? `${label}: ${does}` : `Nothing to ${label.toLowerCase()}`}>
      <ActionIcon
        variant="default"
        size={36}
        aria-label={does ? `${label}: ${does}` : label}
        disabled={!does}
        onClick={act}
      >
        {icon}
      </ActionIcon>
    </Tooltip>
  )
}

function Loading({ name }: { name: string | undefined }) {
  return (
    <div role="status" aria-busy="true" aria-label="Loading the chart">
      <header className={classes.head}>
        <h1>{name ?? 'Loading…'}</h1>
      </header>
      <Skeleton height={18} mt={14} w="60%" />
      <Skeleton height={14} mt={8} w="45%" />
      <Skeleton height={420} mt={24} />
    </div>
  )
}
