// What has happened, said once to whoever does not see it.
import { useSyncExternalStore } from 'react'
import { outside } from '../api/outside.ts'

const said = outside('')

/** Says what has happened; the same again is said again. */
export function announce(text: string) {
  // A space more or less is another text to whoever reads it out.
  said.set(text === said.get() ? `${text}\u00a0` : text)
}

/** Where it is said. */
export function Announcements() {
  const text = useSyncExternalStore(said.subscribe, said.get)
  return (
    <div className="unseen" role="log" aria-label="What was done">
      {text}
    </div>
  )
}
