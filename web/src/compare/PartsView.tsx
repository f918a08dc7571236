import { Button, MultiSelect, Popover, SegmentedControl, Select } from '@mantine/core'
import { FramedChart } from '../chart/small/FramedChart.tsx'
import { OnePlot } from '../chart/small/OnePlot.tsx'
import { commonReach } from '../chart/small/place.ts'
import { useSize } from '../shared/looking/useSize.ts'
import { levelText, valueText } from '../shared/numbers.ts'
import classes from './Compare.module.css'
import { domainOf, type Part, type PartOrder, type Parts } from './compare.ts'
import { PartsTable } from './PartsTable.tsx'
import { useStrong } from './useStrong.ts'

const ORDERS: { value: PartOrder; label: string }[] = [
  { value: 'name', label: 'By name' },
  { value: 'average', label: 'Highest average first' },
  { value: 'newest', label: 'Newest finding first' },
  { value: 'share_met', label: 'Meeting the target most first' },
]
const MOST = 24

export interface PartsLook {
  order: PartOrder
  onePlot: boolean
  parts: string[]
}

interface Props {
  data: Parts
  look: PartsLook
  /** Null where it is only looked at, as on a page. */
  onLook: ((look: Partial<PartsLook>) => void) | null
  onDates?: (first: string, last: string) => void
}

/** One KPI by its parts: small charts of equal axes, or one plot, with a table beside. */
export function PartsView({ data, look, onLook, onDates }: Props) {
  const { ref, width } = useSize()
  const names = data.parts.map(({ name }) => name)
  const strong = useStrong(names)
  const domain = domainOf(data.dates)
  const reach = commonReach(
    data.parts.map(({ chart }) => chart),
    { target: true },
  )
  const room = Math.max(200, width)
  const columns = Math.max(1, Math.min(4, Math.floor((room + 10) / 270)))
  const each = Math.floor((room - (columns - 1) * 10) / columns) - 22
  return (
    <>
      {onLook && (
        <div className={classes.asked}>
          <SegmentedControl
            size="xs"
            aria-label="How they are drawn"
            data={[
              { value: 'each', label: 'A chart each' },
              { value: 'one', label: 'One plot' },
            ]}
            value={look.onePlot ? 'one' : 'each'}
            onChange={(value) => onLook({ onePlot: value === 'one' })}
          />
          <Select
            size="xs"
            w={190}
            aria-label="Order of the parts"
            data={ORDERS}
            value={look.order}
            allowDeselect={false}
            onChange={(value) => value && onLook({ order: value as PartOrder })}
          />
          {(data.rest.length > 0 || look.parts.length > 0) && (
            <Choose data={data} look={look} onLook={onLook} />
          )}
          {data.segments.length > 1 && onDates && (
            <Select
              size="xs"
              w={190}
              aria-label="Over a segment"
              placeholder="Over a segment"
              data={data.segments.map(({ name }, n) => ({ value: String(n), label: name }))}
              value={null}
              onChange={(value) => {
                const segment = data.segments[Number(value)]
                if (value && segment) onDates(segment.first, segment.last)
              }}
            />
          )}
        </div>
      )}
      {onLook && (
        <>
          <p className={classes.answer}>{data.answer}</p>
          <p className={classes.how}>{data.how}</p>
        </>
      )}
      <div className={onLook ? classes.beside : classes.stacked}>
        <div ref={ref}>
          {width === 0 ? null : look.onePlot ? (
            <div className={`card ${classes.plot}`}>
              <OnePlot
                label={`${data.name} by its parts`}
                lines={data.parts.map(({ name, chart }) => ({ key: name, name, chart }))}
                strong={strong.strong}
                onStrong={strong.bring}
                goal={data.parts[0]?.chart.target ?? null}
                goalText={
                  data.parts[0]?.chart.target != null
                    ? valueText(data.parts[0].chart.target, data.numbers)
                    : ''
                }
                {...{ domain }}
                width={room - 30}
                height={420}
              />
            </div>
          ) : (
            <div
              className={classes.smalls}
              style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
            >
              {data.parts.map((part) => (
                <div
                  key={part.name}
                  className={`card ${classes.small}`}
                  data-part-of={part.name}
                  data-strong={part.name === strong.strong}
                  onPointerEnter={() => strong.hover(part.name)}
                  onPointerLeave={() => strong.hover(null)}
                >
                  <h2>
                    <span title={part.name}>{part.name}</span>
                    <small>{inShort(part, data)}</small>
                  </h2>
                  <FramedChart
                    chart={part.chart}
                    label={part.name}
                    {...{ domain, reach }}
                    width={each}
                    height={150}
                    target
                  />
                </div>
              ))}
            </div>
          )}
        </div>
        <div className={`card ${classes.plot}`}>
          <PartsTable data={data} strong={strong} />
          {data.rest.length > 0 && (
            <p className={`quiet ${classes.rest}`}>
              {data.rest.length.toLocaleString('en-US')} more: {data.rest.slice(0, 40).join(', ')}
              {data.rest.length > 40 && ' …'}
            </p>
          )}
        </div>
      </div>
    </>
  )
}

function inShort(part: Part, { numbers }: Parts): string {
  if (part.average === null) return 'no values'
  const apart = part.side === 1 ? 'higher' : part.side === -1 ? 'lower' : ''
  return [levelText(part.average, numbers), apart].filter(Boolean).join(' · ')
}

function Choose({
  data,
  look,
  onLook,
}: {
  data: Parts
  look: PartsLook
  onLook: (look: Partial<PartsLook>) => void
}) {
  const shown = data.parts.map(({ name }) => name)
  return (
    <Popover width={340} position="bottom-start" trapFocus>
      <Popover.Target>
        <Button size="xs" variant="default">
          {shown.length} of {shown.length + data.rest.length} parts
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <MultiSelect
          label={`Up to ${MOST} parts`}
          searchable
          maxValues={MOST}
          limit={60}
          comboboxProps={{ withinPortal: false }}
          data={[...shown, ...data.rest].sort()}
          value={look.parts.length ? look.parts : shown}
          onChange={(parts) => onLook({ parts })}
        />
      </Popover.Dropdown>
    </Popover>
  )
}
