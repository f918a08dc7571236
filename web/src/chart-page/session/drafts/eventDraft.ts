// An event in the hand: a new one, or one on its way to other days. Pure.
import type { Schemas } from '../../../api/client.ts'

export type EventDraft = Omit<Schemas['Event'], 'id'> & {
  /** Null for one that is not there yet. */
  id: number | null
}

const DAY = 86_400_000

/** A new event on the day of a period, told with one KPI. */
export function eventAt(period: string, kpi: string): EventDraft {
  const first = period.slice(0, 10)
  return {
    id: null,
    version: 0,
    title: '',
    kind: 'note',
    text: '',
    first,
    last: first,
    everywhere: false,
    kpis: [kpi],
  }
}

/** The days of an event that is moved as a whole. */
export function movedBy({ first, last }: Pick<EventDraft, 'first' | 'last'>, days: number) {
  const moved = (day: string) =>
    new Date(Date.parse(`${day}T00:00Z`) + days * DAY).toISOString().slice(0, 10)
  return { first: moved(first), last: moved(last) }
}
