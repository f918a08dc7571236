// The KPIs that were opened last in this browser, in each workspace.
const MOST = 6

const keyOf = (workspace: string) => `fluctus-recent ${workspace}`

/** The slugs of what was opened last, the newest first. */
export function recentsOf(workspace: string): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(keyOf(workspace)) ?? '[]')
    return Array.isArray(kept) ? kept.filter((slug) => typeof slug === 'string') : []
  } catch {
    // A browser that keeps nothing, or something else there, has opened nothing.
    return []
  }
}

/** Notes that a KPI was opened; returns what was opened before it. */
export function keepRecent(workspace: string, slug: string): string[] {
  const others = recentsOf(workspace).filter((other) => other !== slug)
  try {
    localStorage.setItem(keyOf(workspace), JSON.stringify([slug, ...others].slice(0, MOST)))
  } catch {
    // As above.
  }
  return others
}
