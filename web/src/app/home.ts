// The workspace that a browser was in last, which is where it begins again.
const KEY = 'fluctus-workspace'

export function keepHome(workspace: string) {
  try {
    localStorage.setItem(KEY, workspace)
  } catch {
    // A browser that keeps nothing begins with the first.
  }
}

/** Where a person begins: where they were last, if they still belong there, or else the first. */
export function homeOf<W extends { slug: string }>(workspaces: W[]): W | undefined {
  let kept: string | null = null
  try {
    kept = localStorage.getItem(KEY)
  } catch {
    // As above.
  }
  return workspaces.find(({ slug }) => slug === kept) ?? workspaces[0]
}
