import { Menu, Skeleton } from '@mantine/core'
import { useState } from 'react'
import type { Schemas } from '../../api/client.ts'
import { COLORS, DASHES, WEIGHTS } from '../../chart/model/overlays.ts'
import { areaPath, linePath } from '../../chart/model/path.ts'
import { linear, type Scale } from '../../chart/model/scale.ts'
import type { Line } from '../../chart/model/types.ts'
import page from '../ChartPage.module.css'
import { useOffers } from '../data/context.ts'
import { useChartSession } from '../session/ChartSession.tsx'
import { BESIDE_AXIS } from '../session/mode.ts'
import { useShown } from '../session/useShown.ts'
import classes from './Add.module.css'

type Offer = Schemas['Offer']

const [WIDTH, HEIGHT, PAD] = [124, 44, 4]
/** Pictures that stand there before it is known what is offered. */
const AWAITED = [1, 2, 3, 4, 5, 6]

/** What can be added to the chart: pictures first, drawn on its own values, then what is told in a card. */
export function Add({ states }: { states: readonly string[] }) {
  const { path, look, saved, dispatch, acts } = useChartSession()
  const { chart } = useShown()
  const [opened, setOpened] = useState(false)
  // Asked for when the hand is near, so that they are mostly there when it opens; what is done
  // elsewhere on the chart asks for none.
  const [near, setNear] = useState(false)
  const offers = useOffers(path, look.view, saved.kpi.revision, near || opened)
  // What is below stays where it is, whatever comes above it.
  const [reserved, setReserved] = useState(false)
  const open = (to: boolean) => {
    setOpened(to)
    setReserved(to && offers.isPending)
  }
  const found = offers.data?.offers ?? []
  const { target_now: target, kpi } = chart
  return (
    <Menu position="bottom-start" width="min(444px, 94vw)" opened={opened} onChange={open}>
      <Menu.Target>
        <button
          type="button"
          className={page.chip}
          data-add
          onPointerEnter={() => setNear(true)}
          onPointerLeave={() => setNear(false)}
          onFocus={() => setNear(true)}
          onBlur={() => setNear(false)}
        >
          Add
        </button>
      </Menu.Target>
      <Menu.Dropdown>
        {(found.length > 0 || reserved) && (
          <div className={classes.pictures} data-reserved={reserved}>
            {offers.isPending &&
              AWAITED.map((n) => <Skeleton key={n} height={HEIGHT + 34} aria-hidden />)}
            {offers.error && <p className="quiet">What else could be added is not known now.</p>}
            {found.map((offer) => (
              <Menu.Item
                key={offer.title}
                className={classes.picture}
                onClick={() => acts.addOffer(offer)}
              >
                <Picture values={offers.data?.value ?? []} offer={offer} />
                {offer.title}
              </Menu.Item>
            ))}
          </div>
        )}
        <Menu.Item onClick={() => acts.addLine(BESIDE_AXIS)}>A line</Menu.Item>
        <Menu.Item onClick={() => acts.addBand(BESIDE_AXIS)}>A band between two lines</Menu.Item>
        {states.map((title) => (
          <Menu.Item key={title} onClick={() => dispatch({ type: 'compare state', title })}>
            In and out of {title}
          </Menu.Item>
        ))}
        {target === null && kpi.target === null && (
          <Menu.Item
            onClick={() => dispatch({ type: 'open', card: { kind: 'target', x: 340, y: 190 } })}
          >
            A target
          </Menu.Item>
        )}
      </Menu.Dropdown>
    </Menu>
  )
}

/** The values of the chart, small, with what would be added. */
function Picture({ values, offer }: { values: readonly number[]; offer: Offer }) {
  const heights = offer.lines.flatMap(({ level, course }) => [level, ...(course ?? [])])
  const all = [...values, ...heights.filter((height) => height !== null)]
  const x = linear([0, Math.max(1, values.length - 1)], [PAD, WIDTH - PAD])
  const y = linear([Math.min(...all), Math.max(...all)], [HEIGHT - PAD, PAD])
  const [bottom, top] = offer.lines
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true" focusable="false">
      {offer.is_band && bottom && top && (
        <path
          d={areaPath(values.length, (n) => ({
            x: x(n),
            low: y(bottom.level ?? 0),
            high: y(top.level ?? 0),
          }))}
          fill={COLORS.slate}
          fillOpacity={0.2}
        />
      )}
      <path
        d={linePath(values.length, (n) => [x(n), y(values[n] ?? 0)])}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1}
      />
      {offer.lines.map((line) => (
        <path
          key={line.key}
          d={drawn(line, values.length, x, y)}
          fill="none"
          stroke={COLORS[line.color]}
          strokeWidth={Math.max(1.6, WEIGHTS[line.weight])}
          strokeDasharray={DASHES[line.dash]}
        />
      ))}
    </svg>
  )
}

function drawn({ level, course }: Line, count: number, x: Scale, y: Scale): string {
  return linePath(count, (n) => {
    const height = course ? course[n] : level
    return height === null || height === undefined ? null : [x(n), y(height)]
  })
}
