// The workspace that a browser was in last, which is where it begins again.
import { keepInBrowser, keptInBrowser } from '../shared/inBrowser.ts'

const NAME = 'fluctus-workspace'

export function keepHome(workspace: string) {
  keepInBrowser(NAME, workspace)
}

/** Where a person begins: where they were last, if they still belong there, or else the first. */
export function homeOf<W extends { slug: string }>(workspaces: W[]): W | undefined {
  const kept = keptInBrowser(NAME)
  return workspaces.find(({ slug }) => slug === kept) ?? workspaces[0]
}
