import { Slider, Switch } from '@mantine/core'
import { useSize } from '../shared/looking/useSize.ts'
import classes from './Compare.module.css'
import type { Pair } from './compare.ts'
import { LagCurve } from './LagCurve.tsx'
import { Scatter } from './Scatter.tsx'

const MARKS = [0, 3, 6, 9, 12].map((value) => ({ value, label: String(value) }))

interface Props {
  data: Pair
  onLag: ((lag: number) => void) | null
  onAsTheyAre: ((as: boolean) => void) | null
  asTheyAre: boolean
}

/** Two KPIs against each other: a scatter with its line, and how they go together with a lag. */
export function PairView({ data, onLag, onAsTheyAre, asTheyAre }: Props) {
  const { ref, width } = useSize()
  const side = Math.max(220, Math.min(width - 28, 520))
  return (
    <>
      {onLag && <p className={classes.answer}>{data.sentence}</p>}
      <p className={classes.how}>{data.caution}</p>
      {data.warning && (
        <div className={classes.warn} role="note">
          {data.warning}
          {onAsTheyAre && (
            <Switch
              mt={4}
              size="xs"
              label="Show them as they are"
              checked={asTheyAre}
              onChange={(event) => onAsTheyAre(event.currentTarget.checked)}
            />
          )}
        </div>
      )}
      <div className={onLag ? classes.beside : classes.stacked}>
        <div className={`card ${classes.plot}`} ref={ref}>
          {width > 0 && <Scatter data={data} side={side} />}
          {data.line && (
            <p className={classes.how} data-part="equation">
              {data.line.equation} · R² {data.line.r_squared.toFixed(2)} · n {data.n}
              {data.told < data.n && `, ${data.told.toLocaleString('en-US')} of them drawn`}
            </p>
          )}
          <Off data={data} />
        </div>
        <div className={`card ${classes.plot}`}>
          <b style={{ fontSize: 13 }}>
            Lag: {data.y.name}{' '}
            {data.lag === 0
              ? `in the same ${data.grain}`
              : `${data.lag} ${data.grain}${data.lag === 1 ? '' : 's'} later`}
          </b>
          {onLag && (
            <Slider
              mt="xs"
              mb="lg"
              min={0}
              max={12}
              marks={MARKS}
              thumbLabel="Lag"
              label={(lag) => `${lag} ${data.grain}s`}
              value={data.lag}
              onChange={onLag}
            />
          )}
          <div style={{ maxWidth: 520 }}>
            <LagCurve data={data} />
          </div>
          <p className={classes.how}>{data.how}</p>
        </div>
      </div>
    </>
  )
}

function Off({ data }: { data: Pair }) {
  const named = data.points.off.map((n) => data.points.label[n])
  if (named.length === 0) return null
  return <p className={classes.how}>Off the line: {named.join(', ')}.</p>
}
