// Which dates several charts are looked at on, kept in the address: days, or the newest weeks.
import { useSearchParams } from 'react-router'

export interface DatesAsked {
  first?: string
  last?: string
  weeks?: number
}

export const DEFAULT_WEEKS = 52

/** What an address asks for. */
export function datesOf(address: URLSearchParams): DatesAsked {
  const [first, last] = [address.get('first'), address.get('last')]
  if (first || last) return { ...(first ? { first } : {}), ...(last ? { last } : {}) }
  const weeks = address.get('weeks')
  if (weeks === 'all') return {}
  return { weeks: Number(weeks) || DEFAULT_WEEKS }
}

/** The parts of the address that hold dates. */
export function datesInAddress({ first, last, weeks }: DatesAsked): Record<string, string | null> {
  if (first || last) return { first: first ?? null, last: last ?? null, weeks: null }
  const text = weeks === undefined ? 'all' : weeks === DEFAULT_WEEKS ? null : String(weeks)
  return { first: null, last: null, weeks: text }
}

/** The dates that somebody chose on a screen; null where they are as they come. */
export function ownDates(address: URLSearchParams): DatesAsked | null {
  const chosen = ['first', 'last', 'weeks'].some((name) => address.has(name))
  return chosen ? datesOf(address) : null
}

/** What the address of a screen asks for, and how to ask for something else. */
export function useAddress() {
  const [address, setAddress] = useSearchParams()
  return {
    address,
    dates: datesOf(address),
    ask: (changes: Record<string, string | null>) => {
      const next = new URLSearchParams(address)
      for (const [name, value] of Object.entries(changes)) {
        if (value) next.set(name, value)
        else next.delete(name)
      }
      setAddress(next, { replace: true })
    },
    askAll: (name: string, values: string[]) => {
      const next = new URLSearchParams(address)
      next.delete(name)
      for (const value of values) next.append(name, value)
      setAddress(next, { replace: true })
    },
  }
}
