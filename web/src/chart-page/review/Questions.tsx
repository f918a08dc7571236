import type { Review } from '../data/chart.ts'
import styles from './Review.module.css'

/** The questions of a shift review, in the order of asking. */
const QUESTIONS: [string, string][] = [
  ['different', 'Do the points behave differently from here?'],
  ['reason_known', 'Is the reason for the change known?'],
  ['wanted', 'Is the new behavior wanted?'],
  ['lasting', 'Is it meant to last?'],
]
const ANSWERS: [NonNullable<Review[string]>, string][] = [
  ['yes', 'Yes'],
  ['no', 'No'],
  ['unsure', 'Not sure'],
]

interface Props {
  review: Review
  onChange: (review: Review) => void
}

/** Four questions before limits are recalculated; an answer that is chosen again is taken back. */
export function Questions({ review, onChange }: Props) {
  return QUESTIONS.map(([question, words]) => (
    <fieldset key={question} className={styles.question}>
      <legend>{words}</legend>
      {ANSWERS.map(([answer, name]) => (
        <button
          key={answer}
          type="button"
          aria-pressed={review[question] === answer}
          onClick={() => {
            const { [question]: before, ...others } = review
            onChange(before === answer ? others : { ...review, [question]: answer })
          }}
        >
          {name}
        </button>
      ))}
    </fieldset>
  ))
}
