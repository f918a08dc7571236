// Ways of looking at a chart that are kept by name, as settings. Pure.
import type { Schemas } from '../../../api/client.ts'
import type { Intent } from '../../data/change.ts'
import type { Chart } from '../../data/chart.ts'

export type ViewDraft = Required<Schemas['ViewRequest']>

const viewSettings = ({ name, hidden, by, breakdown, first, last }: Chart['views'][number]) => ({
  ...{ name, hidden, by, breakdown, first, last },
})

/** Keeps a view by its name: a new one, or one as it is looked at now. */
export function keepingView(draft: ViewDraft): Intent {
  return (now) => {
    const views = now.views.map(viewSettings)
    const at = views.findIndex(({ name }) => name === draft.name)
    return { views: at < 0 ? [...views, draft] : views.with(at, draft) }
  }
}

export const removingView =
  (name: string): Intent =>
  (now) => ({ views: now.views.map(viewSettings).filter((view) => view.name !== name) })
