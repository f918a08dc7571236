import { Link } from 'react-router'
import type { Only, Wanted } from './values.ts'

const NONE: Record<Only, string> = {
  marked: 'The chart marks none of these values: all of them are within what the process does.',
  off_target: 'Every value met its target.',
  aside: 'No value is set aside.',
  noted: 'No value has a note. Type one in the last field of its row.',
  missing: 'No period between the first and the last value is missing.',
}

/** Said where no value is one of those that are looked for, or there is none at all. */
export function NoneThere({ wanted }: { wanted: Wanted }) {
  const said = wanted.only && !wanted.by ? NONE[wanted.only] : 'No value is one of those.'
  return (
    <p className="quiet">
      {wanted.only || wanted.by ? said : 'There are no values yet.'}{' '}
      {(wanted.only || wanted.by) && <Link to="?">Show all values</Link>}
    </p>
  )
}
