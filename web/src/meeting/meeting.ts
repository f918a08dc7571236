// What a meeting shows, one thing at a time: from its address.
import { useQuery } from '@tanstack/react-query'
import { answer, client } from '../api/client.ts'
import { type KpiPath, keys } from '../api/keys.ts'
import type { View } from '../chart-page/data/chart.ts'
import type { PageDetail } from '../pages/pages.ts'
import type { Panel } from '../panels/face.ts'
import type { NewPanel } from '../panels/panels.ts'

/** One thing on screen: a chart in a view, or words. */
export interface Thing {
  kpi?: string
  view?: string
  /** A finding that the chart is shown for. */
  finding?: number
  text?: string
  /** A comparison, as a page shows it. */
  panel?: Panel
}

export function useBuildUp(path: KpiPath, view: View, enabled: boolean) {
  return useQuery({
    queryKey: keys.buildUp(path, view),
    queryFn: () =>
      answer(
        client.GET('/api/v1/workspaces/{workspace}/kpis/{kpi}/build-up', {
          params: { path, query: view },
        }),
      ),
    enabled,
  })
}

/** What the address names: charts by `kpi`, each with the `view` or `finding` beside it. */
export function thingsIn(query: URLSearchParams): Thing[] {
  const views = query.getAll('view')
  const findings = query.getAll('finding')
  const panel = panelIn(query.get('panel'))
  if (panel) return [{ panel }]
  return query.getAll('kpi').map((kpi, n) => ({
    kpi,
    ...(views[n] ? { view: views[n] } : {}),
    ...(findings[n] ? { finding: Number(findings[n]) } : {}),
  }))
}

/** A comparison that an address holds; null for none, or for one that cannot be read. */
function panelIn(text: string | null): Panel | null {
  try {
    const asked = text ? (JSON.parse(text) as NewPanel) : null
    if (!asked?.kind) return null
    const kpis = asked.kpis ?? []
    return {
      ...{ key: 'shown', kind: asked.kind, kpis, names: kpis, gone: [], text: '', view: '' },
      ...{ group: asked.group ?? '', dates: null, x: 0, y: 0, w: 2, h: 10 },
      options: (asked.options ?? {}) as Panel['options'],
    }
  } catch {
    return null
  }
}

/** What a page shows, from top to bottom: its charts and its words. */
export function thingsOf(page: PageDetail): Thing[] {
  const inOrder = [...page.panels].sort((a, b) => a.y - b.y || a.x - b.x)
  return inOrder.flatMap((panel): Thing[] => {
    if (panel.kind === 'text') return [{ text: panel.text }]
    if (panel.kind !== 'chart') return [{ panel }]
    const kpis = panel.kpis.filter((_, n) => !panel.gone.includes(panel.names[n] ?? ''))
    return kpis.map((kpi) => ({ kpi, ...(panel.view ? { view: panel.view } : {}) }))
  })
}
