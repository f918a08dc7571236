// A value that lives outside of React: what follows it draws itself anew, nothing else does.

export interface Outside<T> {
  get: () => T
  /** Tells whoever follows, unless it is the same. */
  set: (next: T) => void
  subscribe: (changed: () => void) => () => void
  /** Whether anything follows it just now. */
  isFollowed: () => boolean
}

export function outside<T>(first: T): Outside<T> {
  let now = first
  const following = new Set<() => void>()
  return {
    get: () => now,
    set: (next) => {
      if (next === now) return
      now = next
      for (const changed of following) changed()
    },
    subscribe: (changed) => {
      following.add(changed)
      return () => following.delete(changed)
    },
    isFollowed: () => following.size > 0,
  }
}
