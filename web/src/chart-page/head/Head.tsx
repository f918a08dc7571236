import { ActionIcon, Button } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { IconHelp } from '@tabler/icons-react'
import { lazy, Suspense } from 'react'
import { useKpis } from '../../shared/kpis.ts'
import { counted } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'
import { useStates } from '../data/context.ts'
import { useDerive } from '../data/derived.ts'
import { say } from '../session/apply.ts'
import { useChartSession } from '../session/ChartSession.tsx'
import { BESIDE_AXIS, besideAxis } from '../session/mode.ts'
import { useShown } from '../session/useShown.ts'
import { Add } from './Add.tsx'
import { AtHand } from './AtHand.tsx'
import { Chips } from './Chips.tsx'
import { Dates } from './Dates.tsx'
import { HandOver } from './HandOver.tsx'
import { InPlace } from './InPlace.tsx'
import { PageHead } from './PageHead.tsx'
import { Subtitle } from './Subtitle.tsx'
import { useEdit } from './useEdit.ts'
import { Views } from './Views.tsx'

const AddToPageWindow = lazy(async () => ({
  default: (await import('../../pages/AddToPage.tsx')).AddToPageWindow,
}))
const MakeFrom = lazy(async () => ({ default: (await import('./MakeFrom.tsx')).MakeFrom }))
const DerivedFrom = lazy(async () => ({ default: (await import('./DerivedFrom.tsx')).DerivedFrom }))
const WordsOfIt = lazy(async () => ({
  default: (await import('./words/WordsOfIt.tsx')).WordsOfIt,
}))
const DeleteKpi = lazy(async () => ({ default: (await import('./DeleteKpi.tsx')).DeleteKpi }))

/** Name, sentence, lines and dates of a chart, and what can be done with it as a whole. */
export function Head() {
  const { path, look, state, dispatch, drawn, held, whole, acts, may, svg } = useChartSession()
  const [deleting, remove] = useDisclosure()
  const [putting, put] = useDisclosure()
  const [making, make] = useDisclosure()
  const [explaining, explain] = useDisclosure()
  return (
    <>
      <PageHead
        chart={drawn}
        base={`/${path.workspace}/charts/${path.kpi}`}
        undo={acts.undo}
        redo={acts.redo}
        name={<Name />}
        beside={<Subtitle />}
        onSetUp={(kind) => dispatch(besideAxis(kind))}
        onDelete={may.own ? remove.open : null}
        onTry={state.trial || held || !whole ? null : () => dispatch({ type: 'begin trial' })}
        onAddToPage={put.open}
        onMake={make.open}
        may={may}
        atHand={<AtHand path={path} />}
        exporting={
          <HandOver
            path={path}
            view={look.view}
            viewName={look.viewName}
            chart={drawn}
            svg={svg}
            mayShare={may.edit}
          />
        }
      />
      <div className={classes.sentence} aria-live="polite">
        <p className={classes.headline}>{drawn.sentence.headline}</p>
        <p className={classes.detail}>
          {drawn.sentence.detail}{' '}
          <ActionIcon
            variant="subtle"
            size={24}
            aria-label="What the words mean"
            title="What the words mean"
            onClick={explain.open}
          >
            <IconHelp size={16} />
          </ActionIcon>
          <Offer />
        </p>
      </div>
      <Shown />
      {drawn.kpi.derivation && (
        <Suspense>
          <DerivedFrom />
        </Suspense>
      )}
      {drawn.axis.note && <p className={classes.remark}>{drawn.axis.note}</p>}
      {drawn.remarks.map((remark) => (
        <p key={remark} className={classes.remark}>
          {remark}
        </p>
      ))}
      {putting && (
        <Suspense>
          <AddToPageWindow
            workspace={path.workspace}
            panels={[{ kind: 'chart', kpis: [path.kpi], view: look.viewName ?? '' }]}
            onClose={put.close}
          />
        </Suspense>
      )}
      {making && (
        <Suspense>
          <MakeFrom path={path} chart={drawn} onClose={make.close} />
        </Suspense>
      )}
      {explaining && (
        <Suspense>
          <WordsOfIt chart={drawn} onClose={explain.close} />
        </Suspense>
      )}
      {deleting && (
        <Suspense>
          <DeleteKpi onClose={remove.close} />
        </Suspense>
      )}
    </>
  )
}

/** The name of the KPI, changed where it stands. */
function Name() {
  const { drawn } = useChartSession()
  const edit = useEdit()
  return <InPlace label="Name" value={drawn.kpi.name} maxLength={120} required {...edit('name')} />
}

/** The one act that helps where limits by period say little. */
function Offer() {
  const { path, drawn, state, held, whole, acts, may } = useChartSession()
  const derive = useDerive(path)
  if (held || !whole || state.trial) return null
  const [pattern] = drawn.patterns
  const act =
    drawn.nature === 'holds' && drawn.kpi.drawn_as !== 'steps'
      ? { label: 'Draw it as steps', does: () => acts.changeDetails({ drawn_as: 'steps' }) }
      : drawn.nature === 'rare' && !drawn.kpi.derivation && may.edit
        ? {
            label: 'Chart the time between events',
            does: () => derive.mutate({ made_by: 'time_between', name: '' }),
          }
        : pattern && drawn.nature === null
          ? {
              label: 'Let the limits follow it',
              does: () =>
                acts.changeSegment(drawn.segments.at(-1)?.start ?? null, {
                  follows: pattern.follows,
                }),
            }
          : null
  return (
    act && (
      <Button
        size="compact-xs"
        variant="light"
        className={classes.offer}
        loading={derive.isPending}
        onClick={() => act.does()}
      >
        {act.label}
      </Button>
    )
  )
}

/** Pixels of the rail beside the page, and of the margins. */
const RAIL = 250

/** Which lines, which dates, by which grain, and of which part. */
function Shown() {
  const { path, look, state, dispatch, saved, acts } = useChartSession()
  const { shown, chart, toggle } = useShown()
  const states = useStates(path, look.view, state.world)
  const newest = useKpis(path.workspace).data?.find((kpi) => kpi.slug === path.kpi)?.latest_period

  function show(what: { by?: string | null; of?: string | null }) {
    // What is tried is tried on the whole, at its own grain.
    if (state.trial) {
      say('Keep the trial or discard it first.')
      return
    }
    dispatch({ type: 'look elsewhere' })
    look.show(what)
  }

  return (
    <div className={classes.chips}>
      <Chips
        chart={chart}
        shown={shown}
        onToggle={toggle}
        room={look.viewport.width - (look.viewport.width > 800 ? RAIL : 0)}
        onOpenLine={(key) => acts.openLine(key, BESIDE_AXIS)}
        onOpenBand={({ says: _, note: __, ...draft }) =>
          dispatch({ type: 'open', card: { kind: 'band', draft, added: false, ...BESIDE_AXIS } })
        }
      >
        <Add states={states.data?.titles.slice(0, 6) ?? []} />
        <button
          type="button"
          className={classes.chip}
          onClick={() => dispatch(besideAxis('rules'))}
        >
          {counted(chart.kpi.rules.length, 'rule')}
        </button>
      </Chips>
      <div className={classes.dates}>
        <Views />
        <Dates
          chart={saved}
          newest={newest?.slice(0, 10) ?? ''}
          stretch={look.stretch}
          onChange={look.setStretch}
          onBy={(by) => show({ by: by === saved.kpi.stored_grain ? null : by })}
          onBreakdown={(of) => show({ of })}
          onCalendar={() => dispatch(besideAxis('calendar'))}
          breakdown={look.breakdown}
        />
      </div>
    </div>
  )
}
