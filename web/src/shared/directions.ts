// Which way a KPI is wanted to go, in words.
import type { Schemas } from '../api/client.ts'

export const DIRECTIONS: { value: Schemas['Direction']; label: string }[] = [
  { value: 'higher', label: 'Higher is better' },
  { value: 'lower', label: 'Lower is better' },
  { value: 'neither', label: 'Neither' },
]
