// How several values of a period become one, in words.
import type { Schemas } from '../api/client.ts'

export const AGGREGATIONS: { value: Schemas['Aggregation']; label: string }[] = [
  { value: 'sum', label: 'their sum' },
  { value: 'mean', label: 'their mean' },
  { value: 'median', label: 'their median' },
  { value: 'minimum', label: 'the lowest' },
  { value: 'maximum', label: 'the highest' },
  { value: 'first', label: 'the first' },
  { value: 'last', label: 'the last' },
  { value: 'count', label: 'how many there are' },
  { value: 'ratio', label: 'ratio of their sums' },
]
