import classes from '../Intake.module.css'
import type { Mapping, Reading } from './table.ts'

interface Props {
  reading: Reading
  mapping: Mapping
  onChange: (mapping: Mapping) => void
}

/** What was understood of the table, a sentence each; every one of them can be taken back. */
export function Steps({ reading, mapping, onChange }: Props) {
  if (reading.steps.length === 0) return null
  const taken = mapping.taken_back ?? []
  const turn = (key: string, done: boolean) =>
    onChange({
      ...mapping,
      taken_back: done ? [...taken, key] : taken.filter((one) => one !== key),
    })
  return (
    <ol className={classes.steps} aria-label="What was understood">
      {reading.steps.map(({ key, says, why, done }) => (
        <li key={key} data-done={done}>
          <span title={why}>
            {done ? says : <s>{says}</s>}. <span className="quiet">{why}</span>
          </span>{' '}
          <button
            type="button"
            className={classes.link}
            aria-label={`${done ? 'Undo' : 'Do it'}: ${says}`}
            onClick={() => turn(key, done)}
          >
            {done ? 'Undo' : 'Do it'}
          </button>
        </li>
      ))}
    </ol>
  )
}
