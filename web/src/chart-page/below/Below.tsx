import { lazy, Suspense } from 'react'
import { hasContributions } from '../../shared/contributions/hasContributions.ts'
import { WhatMadeIt } from '../../shared/contributions/WhatMadeIt.tsx'
import { NextValue } from '../../values/NextValue.tsx'
import type { KpiPath } from '../data/chart.ts'
import { useChartSession } from '../session/ChartSession.tsx'
import { Findings } from './FindingCards.tsx'
import { PointsTable } from './PointsTable.tsx'

// What comes when it is asked for.
const Selections = lazy(async () => ({ default: (await import('./Selections.tsx')).Selections }))
const PointActs = lazy(async () => ({ default: (await import('./PointActs.tsx')).PointActs }))
const InAndOut = lazy(async () => ({ default: (await import('./InAndOut.tsx')).InAndOut }))

/** What stands under a chart: the next value, acts on the chosen point, findings, the points. */
export function Below() {
  const { path, look, state, dispatch, saved, base, drawn, held, whole, acts, may, svg } =
    useChartSession()
  const { trial, selected, hovered } = state
  const lastStart = base.segments.at(-1)?.start ?? null
  const onePart = saved.kpi.breakdowns.length === 0 || look.breakdown !== null
  return (
    <>
      <Suspense>
        {!held && state.spans.length > 0 && <Selections />}
        {!held && state.world !== null && <InAndOut />}
      </Suspense>
      {may.add && !held && !trial && saved.next && onePart && !saved.kpi.derivation?.follows && (
        <NextValue path={path} chart={saved} breakdown={look.breakdown} />
      )}
      <Suspense>{selected !== null && !held && <Chosen position={selected} />}</Suspense>
      <Findings
        path={path}
        chart={drawn}
        saved={whole && !trial && !held}
        at={hovered ?? selected}
        opened={look.finding}
        onLight={(positions) => dispatch({ type: 'light', positions })}
        onOpen={look.openFinding}
        onReopen={acts.reopenReview}
        farOff={
          !whole || held || !may.edit
            ? null
            : {
                mend:
                  saved.kpi.derivation?.follows || trial
                    ? null
                    : (position) => valuesAt(path, onePart ? position : null),
                onAside: acts.takeAside,
                onRight: acts.confirm,
              }
        }
        onFirm={(start) => acts.changeSegment(start, { window: null })}
        onFollow={(follows) => acts.changeSegment(lastStart, { follows })}
        onMedian={() => acts.changeSegment(lastStart, { spread: 'median_range' })}
        onSelect={(position) => {
          dispatch({ type: 'select', position })
          svg.current?.scrollIntoView({ block: 'nearest' })
        }}
      />
      <PointsTable chart={drawn} />
    </>
  )
}

/** Where values are typed, at the row of a position where values have no parts. */
function valuesAt({ workspace, kpi }: KpiPath, row: number | null) {
  const values = `/${workspace}/charts/${kpi}/values`
  return row === null ? values : `${values}?row=${row}`
}

function Chosen({ position }: { position: number }) {
  const { path, look, state, dispatch, base, acts, may, belowPoint } = useChartSession()
  const period = base.points.period[base.points.position.indexOf(position)]
  const told = period !== undefined && look.breakdown === null && hasContributions(base.kpi)
  return (
    <>
      <PointActs
        aside={base.set_aside.some((point) => point.position === position)}
        onShift={() => acts.placeShift(position)}
        onAside={() => acts.takeAside(position)}
        onSplit={() => acts.splitAt(position)}
        onEvent={
          state.trial || !may.add ? null : () => acts.addEvent(position, belowPoint(position))
        }
        onValue={
          state.trial
            ? () =>
                dispatch({
                  type: 'open',
                  card: { kind: 'value', position, ...belowPoint(position) },
                })
            : null
        }
      />
      {told && !state.trial && (
        <WhatMadeIt key={period} path={path} asked={{ first: period, by: base.kpi.grain }} />
      )}
    </>
  )
}
