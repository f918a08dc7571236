import { Modal } from '@mantine/core'
import type { Chart } from '../../../chart/model/types.ts'
import { TermPicture } from './TermPicture.tsx'
import { meaningOf, TERMS, type Term } from './terms.ts'
import classes from './Words.module.css'

/** The words of the trade, each with two sentences and a picture of the chart that is open. */
export function WordsOfIt({ chart, onClose }: { chart: Chart; onClose: () => void }) {
  return (
    <Modal
      opened
      onClose={onClose}
      size={640}
      title="The words of this chart"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <dl className={classes.words}>
        {(Object.keys(TERMS) as Term[]).map((term) => {
          const [means, here] = meaningOf(term, chart)
          return (
            <div key={term}>
              <dt>{TERMS[term]}</dt>
              <dd>
                <span>
                  {means} <b>{here}</b>{' '}
                  <a href={`/help/words.html#${term}`} target="_blank" rel="noreferrer">
                    How it is computed
                  </a>
                </span>
                {chart.points.value.length > 0 && <TermPicture term={term} chart={chart} />}
              </dd>
            </div>
          )
        })}
      </dl>
    </Modal>
  )
}
