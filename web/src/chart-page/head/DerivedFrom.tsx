import { Fragment } from 'react'
import { Link } from 'react-router'
import classes from '../ChartPage.module.css'
import { useChartSession } from '../session/ChartSession.tsx'

/** What it is made from, where that leads, and what could not be derivation. */
export function DerivedFrom() {
  const { path, drawn } = useChartSession()
  const { derivation } = drawn.kpi
  if (
    !derivation ||
    (derivation.follows && derivation.left_out.length === 0 && derivation.by === 'time_between')
  )
    return null
  return (
    <p className={classes.remark}>
      {derivation.follows ? (
        <>
          {MADE_AS[derivation.by]}{' '}
          {derivation.sources.map(({ slug, name }, n) => (
            <Fragment key={slug}>
              {n > 0 && BETWEEN[derivation.by]}
              <Link to={`/${path.workspace}/charts/${slug}`}>{name}</Link>
            </Fragment>
          ))}
          {derivation.by === 'multiple' && ` times ${drawn.kpi.times}`}.{' '}
          {derivation.left_out.join(' ')}
        </>
      ) : (
        'It was made from others, of which one is deleted: it keeps its values, and follows no more.'
      )}
    </p>
  )
}

const MADE_AS = {
  ratio: 'Follows',
  sum: 'Follows the sum of',
  difference: 'Follows',
  multiple: 'Follows',
  time_between: 'Follows the events of',
}
const BETWEEN = {
  ratio: ' by ',
  sum: ' and ',
  difference: ' less ',
  multiple: '',
  time_between: '',
}
