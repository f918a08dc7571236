// The KPIs that were opened last in this browser, in each workspace.
import { jsonInBrowser, keepInBrowser } from '../shared/inBrowser.ts'

const MOST = 6

const nameOf = (workspace: string) => `fluctus-recent ${workspace}`

/** The slugs of what was opened last, the newest first. */
export function recentsOf(workspace: string): string[] {
  const kept = jsonInBrowser(nameOf(workspace))
  return Array.isArray(kept) ? kept.filter((slug) => typeof slug === 'string') : []
}

/** Notes that a KPI was opened. */
export function keepRecent(workspace: string, slug: string) {
  const others = recentsOf(workspace).filter((other) => other !== slug)
  keepInBrowser(nameOf(workspace), JSON.stringify([slug, ...others].slice(0, MOST)))
}
