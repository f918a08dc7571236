// The values of a KPI as they are stored, in stretches, and the writes of single ones.
import { useMutation, useQueries, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys, type Place, renew } from '../api/keys.ts'
import { useVocabulary } from '../api/vocabulary.ts'
import { notifyProblem } from '../shared/notifications.tsx'

export type Value = Schemas['Value']
export type Edit = Partial<Schemas['EditRequest']> & { period: string }

const base = '/api/v1/workspaces/{workspace}/kpis/{kpi}/values' as const

export interface Stretches {
  count: number
  /** The period after the last one. */
  next: Schemas['Values']['next']
  /** Whether a feed brings values of it. */
  fed: boolean
  at: (index: number) => Value | undefined
  pending: boolean
  error: Error | null
  refetch: () => void
}

/** The stretches of values that hold the rows from `first` to `last`. */
export function useValues(place: Place, breakdown: string | null, first: number, last: number) {
  const atOnce = useVocabulary()?.values_page ?? 0
  const starts = [0]
  if (atOnce > 0)
    for (let page = Math.floor(first / atOnce); page <= Math.floor(last / atOnce); page++)
      if (page > 0) starts.push(page * atOnce)
  const pages = useQueries({
    queries: starts.map((start) => ({
      queryKey: keys.values(place, breakdown, start),
      queryFn: () =>
        answer(
          client.GET(base, {
            params: {
              path: place,
              query: { start, ...(breakdown === null ? {} : { breakdown }) },
            },
          }),
        ),
    })),
  })
  const head = pages[0]?.data
  const found: Stretches = {
    count: head?.count ?? 0,
    next: head?.next ?? null,
    fed: head?.fed ?? false,
    at: (index) => {
      const start = atOnce > 0 ? Math.floor(index / atOnce) * atOnce : 0
      return pages[starts.indexOf(start)]?.data?.values[index - start]
    },
    pending: pages[0]?.isPending ?? true,
    error: pages.find((page) => page.error)?.error ?? null,
    refetch: () => pages.forEach((page) => void page.refetch()),
  }
  return found
}

/** Saves values; one that somebody else has changed meanwhile is refused, and the new ones come in. */
export function useEditValues(place: Place) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (edits: Edit[]) =>
      answer(
        client.POST(base, {
          params: { path: place },
          body: { edits: edits as Schemas['EditRequest'][] },
        }),
      ),
    onError: notifyProblem,
    // Over only when what is shown is what is saved: an undo right after names the newest revision.
    onSettled: () => renew.afterValues(queries, place),
  })
}

export function useVersions(place: Place, value: Value | null) {
  return useQuery({
    queryKey: keys.versions(place, value?.period, value?.breakdown),
    queryFn: () =>
      answer(
        client.GET(`${base}/history`, {
          params: {
            path: place,
            query: { period: value?.period ?? '', breakdown: value?.breakdown ?? '' },
          },
        }),
      ),
    enabled: value !== null,
  })
}

const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i

/**
 * The numbers that a typed text can stand for: one, none, or two where a comma may part the
 * thousands or the decimals. Where there are both marks, the last one parts the decimals.
 */
export function readingsOf(text: string): number[] {
  const plain = text.replace(/[\s\u00a0\u202f']/g, '').replace('\u2212', '-')
  const thousands = (mark: string, decimals: string) =>
    new RegExp(`^[+-]?\\d{1,3}(\\${mark}\\d{3})+${decimals}$`)
  const readings = [
    // A point for the decimals, or none: 19.4, 1,234, 1,234.5
    !plain.includes(',') || thousands(',', '(\\.\\d*)?').test(plain)
      ? plain.replaceAll(',', '')
      : null,
    // A comma for the decimals: 19,4, 1.234,5; and thousands by points alone: 1.234.567
    /^[^,]*,[^,]*$/.test(plain) && (!plain.includes('.') || thousands('.', ',\\d*').test(plain))
      ? plain.replaceAll('.', '').replace(',', '.')
      : null,
    /\..*\./.test(plain) && thousands('.', '').test(plain) ? plain.replaceAll('.', '') : null,
  ]
  return readings
    .filter((reading) => reading !== null && NUMBER.test(reading))
    .map(Number)
    .filter((number, n, all) => Number.isFinite(number) && all.indexOf(number) === n)
}

/** Reads what a person types for a number; null for what is none, or could be two. */
export function typedNumber(text: string): number | null {
  const [number, other] = readingsOf(text)
  return number === undefined || other !== undefined ? null : number
}

/** Why a typed text is no number, in words; null where it is one, or nothing yet. */
export function wrongNumber(text: string): string | null {
  if (text.trim() === '' || typedNumber(text) !== null) return null
  const [number, other] = readingsOf(text)
  return other === undefined ? 'Not a number' : `Write ${number} or ${other}`
}

/** How a value of a KPI is typed: a number, or both numbers of a ratio. */
export interface Typing {
  /** What is written for a text; null where it is none. */
  read: (text: string) => Partial<Edit> | null
  wrong: (text: string) => string | null
  hint: string
}

const NUMBER_TYPED: Typing = {
  read: (text) => {
    const value = typedNumber(text)
    return value === null ? null : { value }
  },
  wrong: wrongNumber,
  hint: 'next value',
}

const FRACTION_TYPED: Typing = {
  read: (text) => {
    const [above, below, more] = text.split(/\s*(?:of|\/)\s*/i)
    const [numerator, denominator] = [typedNumber(above ?? ''), typedNumber(below ?? '')]
    if (numerator === null || denominator === null || more !== undefined) return null
    return { value: null, numerator, denominator }
  },
  wrong: (text) => {
    if (text.trim() === '') return null
    const both = FRACTION_TYPED.read(text)
    if (both === null) return 'Write both numbers: 92 of 98'
    return both.denominator === 0 ? 'There is no ratio by 0' : null
  },
  hint: '92 of 98',
}

/** How the values of a KPI are typed. */
export function typingOf(kpi: Pick<Schemas['Kpi'], 'aggregation'>): Typing {
  return kpi.aggregation === 'ratio' ? FRACTION_TYPED : NUMBER_TYPED
}
