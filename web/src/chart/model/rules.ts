// The rules by their names, in the order of reading.
import type { Chart } from './types.ts'

type Rule = Chart['kpi']['rules'][number]

export const CORE: [Rule, string][] = [
  ['outside_limits', 'Outside the limits'],
  ['range_outside_limit', 'Range outside its limit'],
  ['run', 'Run on one side of the average'],
  ['near_limit', 'Three of four near a limit'],
]
export const EXTENDED: [Rule, string][] = [
  ['two_of_three_beyond_two_sigma', 'Two of three beyond two sigma'],
  ['four_of_five_beyond_one_sigma', 'Four of five beyond one sigma'],
  ['six_trending', 'Six rising or falling'],
  ['fifteen_within_one_sigma', 'Fifteen within one sigma'],
  ['eight_beyond_one_sigma', 'Eight beyond one sigma'],
  ['fourteen_alternating', 'Fourteen alternating'],
]
export const RULES = [...CORE, ...EXTENDED]
