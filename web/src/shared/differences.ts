/** What of a thing is another than it was: all that an edit of it says, and all it may change. */
export function differences<T extends object>(was: T, now: T): Partial<T> {
  const names = Object.keys(now) as (keyof T)[]
  return Object.fromEntries(
    names
      .filter((name) => JSON.stringify(was[name]) !== JSON.stringify(now[name]))
      .map((name) => [name, now[name]]),
  ) as Partial<T>
}
