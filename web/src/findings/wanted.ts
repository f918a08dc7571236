// Which findings are asked for, as the address of the page and that of the file say it. Pure.
import type { Finding, Order, State, Wanted } from './findings.ts'

/** Stands in the address for findings that nobody has. */
export const NOBODY = ' nobody'

export function wantedOf(asked: URLSearchParams): Wanted {
  const text = (name: string) => asked.get(name) ?? undefined
  const person = text('person')
  return {
    state: asked.getAll('state') as State[],
    ...(text('kpi') ? { kpi: text('kpi') as string } : {}),
    ...(text('rule') ? { rule: text('rule') as Finding['rule'] } : {}),
    ...(person ? { person: person === NOBODY ? '' : person } : {}),
    ...(text('since') ? { since: text('since') as string } : {}),
    ...(text('until') ? { until: text('until') as string } : {}),
    ...(text('favorable') ? { favorable: text('favorable') === 'true' } : {}),
    ...(text('gone') ? { gone: true } : {}),
    ...(text('order') ? { order: text('order') as Order } : {}),
    start: Number(asked.get('start')) || 0,
  }
}

export function fileQuery(wanted: Wanted): string {
  const query = new URLSearchParams()
  for (const [name, value] of Object.entries(wanted)) {
    if (Array.isArray(value)) for (const choice of value) query.append(name, choice)
    else if (name !== 'start') query.set(name, String(value))
  }
  return query.toString()
}
