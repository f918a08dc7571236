// Which page of the manual a screen is told at.
const PAGES: [RegExp, string][] = [
  [/^\/[^/]+\/fill-in/, 'fill-in'],
  [/^\/[^/]+\/(new|data|feeds)|^\/[^/]+\/charts\/[^/]+\/(add|values)/, 'data'],
  [/^\/[^/]+\/charts\/[^/]+\/history/, 'shifts'],
  [/^\/[^/]+\/charts/, 'reading'],
  [/^\/[^/]+\/(findings|improvements|for-you)/, 'findings'],
  [/^\/[^/]+\/events/, 'context'],
  [/^\/[^/]+\/(compare|pages)/, 'side-by-side'],
  [/^\/[^/]+\/(reports|links)/, 'showing'],
  [/^\/[^/]+\/(people|messages|account|tokens|mailbox|how-it-is)/, 'people'],
]

/** The address of the manual's page for a screen; its first for any other. */
export function helpFor(path: string): string {
  return `/help/${PAGES.find(([pattern]) => pattern.test(path))?.[1] ?? 'index'}.html`
}
