import { useSize } from '../shared/looking/useSize.ts'
import { amountText } from '../shared/numbers.ts'
import classes from './Compare.module.css'
import type { Shares } from './compare.ts'
import { ShareColumns, shareTone } from './ShareColumns.tsx'

const HEIGHT = 300

/** Shares of a total: bars over all the dates, and stacked columns period by period. */
export function SharesView({ data, bare = false }: { data: Shares; bare?: boolean }) {
  const { ref, width } = useSize()
  const most = Math.max(...data.parts.map(({ share }) => share), 0.01)
  return (
    <>
      {!bare && <p className={classes.answer}>{data.sentence}</p>}
      <div className={classes.stacked}>
        <div className={`card ${classes.plot}`}>
          <dl className={classes.shares}>
            {data.parts.map(({ name, total, share }, n) => (
              <div key={name} style={{ display: 'contents' }}>
                <dt>{name}</dt>
                <dd>
                  <span
                    className={classes.bar}
                    style={{
                      width: `${Math.max(0, (100 * share) / most)}%`,
                      background: shareTone(n),
                    }}
                  />
                </dd>
                <dd>
                  <b>{(share * 100).toFixed(1)}%</b>{' '}
                  <span className="quiet">{amountText(total, data.numbers)}</span>
                </dd>
              </div>
            ))}
          </dl>
        </div>
        <div className={`card ${classes.plot}`} ref={ref}>
          {width > 0 && data.period.length > 0 && (
            <ShareColumns data={data} width={width - 28} height={HEIGHT} />
          )}
        </div>
      </div>
    </>
  )
}
