// The chart under settings that are not kept.
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { answer, client, type Schemas } from '../../api/client.ts'
import { type KpiPath, keys } from '../../api/keys.ts'
import type { Chart, View } from './chart.ts'

export type Previewed = Schemas['PreviewRequest']

const base = '/api/v1/workspaces/{workspace}/kpis/{kpi}/preview' as const

/** What is asked for: settings, and under a dragging hand the chart that is dragged on. */
interface Asked {
  settings: Previewed
  /** Its points stand while the hand moves: only what the settings move is sent. */
  on: Chart | null
}

/**
 * The chart under some settings; null asks for nothing.
 *
 * One at a time: while a hand drags, the next is asked for when the last has come, and
 * with the settings of that moment. Were each to replace the one before, none would come
 * until the hand rests.
 */
export function usePreview(
  path: KpiPath,
  view: View,
  settings: Previewed | null,
  draggedOn: Chart | null = null,
) {
  const wanted = settings && { settings, on: draggedOn }
  const [asked, setAsked] = useState<Asked | null>(wanted)
  const behind = named(asked) !== named(wanted)
  const query = useQuery({
    queryKey: keys.preview(path, view, asked && [asked.settings, asked.on !== null]),
    queryFn: ({ signal }) => preview(path, view, asked, signal),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  })
  const waiting = query.isFetching && settings !== null
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is wanted is told apart by its name
  useEffect(() => {
    if (behind && !waiting) setAsked(wanted)
  }, [behind, waiting, named(wanted)])
  return { ...query, isPlaceholderData: query.isPlaceholderData || behind }
}

const named = (asked: Asked | null) =>
  asked && JSON.stringify([asked.settings, asked.on?.kpi.revision ?? null])

async function preview(
  path: KpiPath,
  view: View,
  asked: Asked | null,
  signal: AbortSignal,
): Promise<Chart> {
  const params = { path, query: view }
  const body = asked?.settings ?? {}
  if (!asked?.on) return answer(client.POST(base, { params, body, signal }))
  const levels = await answer(client.POST(`${base}/levels`, { params, body, signal }))
  return { ...asked.on, ...levels, points: levels.points ?? asked.on.points }
}
