// Comparisons from the server.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { FeatureCollection, MultiPolygon, Polygon } from 'geojson'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys } from '../api/keys.ts'
import { dayTime, type Span } from '../chart/small/place.ts'
import type { DatesAsked } from '../shared/looking/useDates.ts'

export type Parts = Schemas['Parts']
export type Part = Schemas['ComparedPart']
export type Pair = Schemas['Pair']
export type Shares = Schemas['Shares']
export type PlacedParts = Schemas['PlacedParts']
export type PartOrder = 'name' | 'average' | 'newest' | 'share_met'
export type Measure = 'average' | 'total' | 'share_met' | 'findings'
export type Areas = FeatureCollection<Polygon | MultiPolygon, { name: string }>

type Grain = Schemas['Grain']
const base = '/api/v1/workspaces/{workspace}' as const

const asked = (workspace: string, ...wanted: unknown[]) => ({
  queryKey: keys.compared(workspace, ...wanted),
  placeholderData: keepPreviousData,
  retry: false,
})

export interface PartsAsked extends DatesAsked {
  part: string[]
  order: PartOrder
  by?: Grain
}

export function useParts(workspace: string, kpi: string, query: PartsAsked) {
  return useQuery({
    ...asked(workspace, 'parts', kpi, query),
    enabled: kpi !== '',
    queryFn: ({ signal }) =>
      answer(
        client.GET(`${base}/kpis/{kpi}/parts`, {
          params: { path: { workspace, kpi }, query },
          signal,
        }),
      ),
  })
}

/** What of a workspace is worth comparing. */
export function useSuggestions(workspace: string, enabled: boolean) {
  return useQuery({
    ...asked(workspace, 'suggestions'),
    enabled,
    queryFn: ({ signal }) =>
      answer(
        client.GET(`${base}/compare/suggestions`, { params: { path: { workspace } }, signal }),
      ),
  })
}

export function useShares(workspace: string, kpi: string, query: DatesAsked & { by?: Grain }) {
  return useQuery({
    ...asked(workspace, 'shares', kpi, query),
    enabled: kpi !== '',
    queryFn: ({ signal }) =>
      answer(
        client.GET(`${base}/kpis/{kpi}/shares`, {
          params: { path: { workspace, kpi }, query },
          signal,
        }),
      ),
  })
}

export function usePlaces(
  workspace: string,
  kpi: string,
  query: DatesAsked & { measure: Measure },
) {
  return useQuery({
    ...asked(workspace, 'places', kpi, query),
    enabled: kpi !== '',
    queryFn: ({ signal }) =>
      answer(
        client.GET(`${base}/kpis/{kpi}/places`, {
          params: { path: { workspace, kpi }, query },
          signal,
        }),
      ),
  })
}

export function useAreas(workspace: string, file: string) {
  return useQuery({
    ...asked(workspace, 'areas', file),
    enabled: file !== '',
    queryFn: async ({ signal }) =>
      (await answer(
        client.GET(`${base}/areas`, { params: { path: { workspace } }, signal }),
      )) as unknown as Areas,
  })
}

export function useGoal(workspace: string, query: DatesAsked & { kpi: string[]; goal?: number }) {
  return useQuery({
    ...asked(workspace, 'goal', query),
    enabled: query.kpi.length > 0,
    queryFn: ({ signal }) =>
      answer(
        client.GET(`${base}/compare/goal`, { params: { path: { workspace }, query }, signal }),
      ),
  })
}

export interface PairAsked extends DatesAsked {
  x: string
  y: string
  lag: number
  by?: Grain
  as_they_are: boolean
}

export function usePair(workspace: string, query: PairAsked) {
  return useQuery({
    ...asked(workspace, 'pair', query),
    enabled: query.x !== '' && query.y !== '',
    queryFn: ({ signal }) =>
      answer(
        client.GET(`${base}/compare/pair`, { params: { path: { workspace }, query }, signal }),
      ),
  })
}

/** Keeps where parts are: from a table, or as areas of a file; then maps are drawn anew. */
export function usePlaceActs(workspace: string) {
  const queries = useQueryClient()
  const onSuccess = () => queries.invalidateQueries({ queryKey: keys.compared(workspace) })
  const places = useMutation({
    mutationFn: (body: { text: string; exchange: boolean }) =>
      answer(client.PUT(`${base}/places`, { params: { path: { workspace } }, body })),
    onSuccess,
  })
  const areas = useMutation({
    mutationFn: (file: File) => {
      const body = new FormData()
      body.append('file', file)
      return answer(
        client.POST(`${base}/areas`, {
          params: { path: { workspace } },
          body: body as never,
          bodySerializer: (form) => form as never,
        }),
      )
    },
    onSuccess,
  })
  const removeAreas = useMutation({
    mutationFn: () => answer(client.DELETE(`${base}/areas`, { params: { path: { workspace } } })),
    onSuccess,
  })
  return { places, areas, removeAreas }
}

/** The time axis of the days that a comparison shows. */
export function domainOf(dates: Schemas['ComparedDates']): Span {
  const [first, last] = [dates.first ?? '2026-01-01', dates.last ?? '2026-12-31']
  const [from, to] = [dayTime(first), dayTime(last)]
  return from < to ? [from, to] : [from - 86_400_000, from + 86_400_000]
}
