// Where a panel leads to: the screen that shows the same, asked for the same.
import { datesInAddress } from '../shared/looking/useDates.ts'
import type { BodyProps } from './face.ts'
import { datesSent } from './panels.ts'

type Asked = Record<string, string | string[] | null | undefined>

/** The address of a screen of the workspace; null where it is shown by a link. */
export function addressOf(
  { workspace, panel }: Pick<BodyProps<unknown>, 'workspace' | 'panel'>,
  path: string,
  asked: Asked = {},
): string | null {
  if (!workspace) return null
  const query = new URLSearchParams()
  const own: Asked = panel?.dates ? datesInAddress(datesSent(panel.dates)) : {}
  for (const [name, value] of Object.entries({ ...asked, ...own }))
    for (const text of Array.isArray(value) ? value : [value]) if (text) query.append(name, text)
  const address = `/${workspace}${path}`
  return query.size ? `${address}?${query}` : address
}
