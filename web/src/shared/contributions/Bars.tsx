import { levelText, signedLevel } from '../numbers.ts'
import { counted } from '../writing.ts'
import classes from './Contributions.module.css'
import type { Contributions, SharedOut } from './contributions.ts'

interface Props {
  way: SharedOut
  label: string
  than: string
  numbers: Contributions['numbers']
}

/** Bars from the average to the value, one part after the other, that end where the value is. */
export function Bars({ way, label, than, numbers }: Props) {
  const ends = [way.usual, way.value, ...way.bars.flatMap(({ start, stop }) => [start, stop])]
  const low = Math.min(...ends)
  const span = Math.max(...ends) - low || 1
  const percent = (level: number) => ((level - low) / span) * 100
  const beyond = way.bars.some((bar) => bar.beyond !== 0)
  return (
    <>
      <ol className={classes.bars}>
        <Level name={than === 'usual' ? 'Usual' : sentenceCase(than)} at={percent(way.usual)}>
          {levelText(way.usual, numbers)}
        </Level>
        {way.bars.map((bar) => {
          const [from, to] = [percent(bar.start), percent(bar.stop)]
          return (
            <li key={bar.name} data-beyond={bar.beyond !== 0}>
              <span className={classes.name}>
                {bar.name}
                {bar.stands_for > 1 && ` (${counted(bar.stands_for, 'part')})`}
                {bar.beyond !== 0 && (
                  <span className={classes.mark}>
                    {' '}
                    <span aria-hidden="true">◆</span>
                    <span className="unseen">
                      {bar.beyond > 0 ? 'above its own limits' : 'below its own limits'}
                    </span>
                  </span>
                )}
              </span>
              <span className={classes.track} aria-hidden="true">
                <span
                  className={classes.bar}
                  style={{
                    left: `${Math.min(from, to)}%`,
                    width: `max(2px, ${Math.abs(to - from)}%)`,
                  }}
                />
              </span>
              <span className={classes.amount}>
                {signedLevel(bar.brought, numbers)}
                {bar.rate !== null && bar.weight !== null && (
                  <span className={classes.apart}>
                    rate {signedLevel(bar.rate, numbers)}, weight {signedLevel(bar.weight, numbers)}
                  </span>
                )}
              </span>
            </li>
          )
        })}
        <Level name={sentenceCase(label)} at={percent(way.value)}>
          <b>{levelText(way.value, numbers)}</b>
        </Level>
      </ol>
      {beyond && (
        <p className={classes.key}>
          <span aria-hidden="true">◆</span> beyond its own limits
        </p>
      )}
    </>
  )
}

/** Where the bars begin, or where they end. */
function Level({ name, at, children }: { name: string; at: number; children: React.ReactNode }) {
  return (
    <li className={classes.level}>
      <span className={classes.name}>{name}</span>
      <span className={classes.track} aria-hidden="true">
        <span className={classes.tick} style={{ left: `${at}%` }} />
      </span>
      <span className={classes.amount}>{children}</span>
    </li>
  )
}

function sentenceCase(text: string): string {
  return text.slice(0, 1).toUpperCase() + text.slice(1)
}
