import type { Schemas } from '../../api/client.ts'

export type Chart = Schemas['Chart']
export type Signal = Schemas['Signal']
export type Happening = Schemas['Happening']
export type Segment = Schemas['Segment']
export type Line = Schemas['Line']
export type Band = Schemas['Band']
export type Grain = Schemas['Grain']

/** Lines that can be switched off. */
export interface Shown {
  average: boolean
  limits: boolean
  target: boolean
}

export const ALL_SHOWN: Shown = { average: true, limits: true, target: true }
