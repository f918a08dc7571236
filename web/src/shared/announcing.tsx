// What has happened, said once to whoever does not see it.
import { useSyncExternalStore } from 'react'

let said = ''
const watching = new Set<() => void>()

/** Says what has happened; the same again is said again. */
export function announce(text: string) {
  // A space more or less is another text to whoever reads it out.
  said = text === said ? `${text}\u00a0` : text
  for (const watch of watching) watch()
}

/** Where it is said. */
export function Announcements() {
  const text = useSyncExternalStore(
    (watch) => {
      watching.add(watch)
      return () => watching.delete(watch)
    },
    () => said,
  )
  return (
    <div className="unseen" role="log" aria-label="What was done">
      {text}
    </div>
  )
}
