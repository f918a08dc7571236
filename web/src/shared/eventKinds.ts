// The kinds of events, in words.
import type { Schemas } from '../api/client.ts'

export const KINDS: { value: Schemas['EventKind']; label: string }[] = [
  { value: 'change', label: 'Change' },
  { value: 'incident', label: 'Incident' },
  { value: 'state', label: 'State' },
  { value: 'note', label: 'Note' },
]
