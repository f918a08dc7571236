// What panels show, from the server: all of a page in one request.
import { useQuery } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import type { DatesAsked } from '../shared/looking/useDates.ts'
import type { Content, Panel } from './face.ts'

type PanelRequest = Schemas['NewPanelRequest']
/** A panel to be put on a page: what is not said is as the server takes it. */
export type NewPanel = Pick<PanelRequest, 'kind'> & Partial<PanelRequest>

/** What panels show over some dates, by the key of each. */
export function usePanels(workspace: string, panels: Panel[], dates: DatesAsked) {
  const asked = panels.map(sent)
  // Where a panel stands, and what its KPIs were called, changes nothing of what it shows.
  const shown = asked.map(({ x, y, w, h, names, ...rest }) => rest)
  return useQuery({
    queryKey: keys.compared(workspace, 'panels', shown, dates),
    enabled: panels.length > 0,
    queryFn: async ({ signal }) => {
      const contents = await answer(
        client.POST('/api/v1/workspaces/{workspace}/panels', {
          params: { path: { workspace } },
          body: { panels: asked, dates, width: 600 },
          signal,
        }),
      )
      return new Map<string, Content>(contents.map((content) => [content.key, content]))
    },
    // What was shown stays while one is added, or while other dates are asked for.
    placeholderData: (before, query) => (query?.queryKey[1] === workspace ? before : undefined),
  })
}

/** A panel as it is sent: what the server adds of its own is left out. */
export function sent({ gone, dates, options, ...panel }: Panel) {
  return { ...panel, options: optionsSent(options), dates: dates && datesSent(dates) }
}

const optionsSent = ({ goal, ...options }: Panel['options']) =>
  ({ ...options, ...(goal === null ? {} : { goal }) }) as NonNullable<NewPanel['options']>

export const datesSent = ({ first, last, weeks }: Schemas['PageDates']) => ({
  ...(first ? { first } : {}),
  ...(last ? { last } : {}),
  ...(weeks ? { weeks } : {}),
})
