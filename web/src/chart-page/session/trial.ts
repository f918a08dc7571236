// A trial: changes that are only looked at, one on top of the other, until they are kept or dropped.
import { useState } from 'react'
import type { Schemas } from '../../api/client.ts'
import type { Chart } from '../../chart/model/types.ts'
import type { Previewed, Settings } from './chart.ts'

export interface TrialState {
  settings: Settings
  values: Record<string, number>
  aside: Record<string, string | null>
}

const NOTHING: TrialState = { settings: {}, values: {}, aside: {} }

export function useTrial() {
  const [steps, setSteps] = useState<TrialState[] | null>(null)
  const [at, setAt] = useState(0)
  const now = steps?.[at] ?? null
  return {
    /** What is tried at present; null where nothing is being tried. */
    now,
    changed: at > 0,
    begin: () => {
      setSteps([NOTHING])
      setAt(0)
    },
    end: () => setSteps(null),
    /** Tries something on top of what is tried already. */
    add: (change: (trial: TrialState) => TrialState) => {
      if (!steps || !now) return
      setSteps([...steps.slice(0, at + 1), change(now)])
      setAt(at + 1)
    },
    undo: at > 0 ? () => setAt(at - 1) : null,
    redo: steps && at < steps.length - 1 ? () => setAt(at + 1) : null,
  }
}

/** A trial as a preview takes it, with some more settings or points on top. */
export function previewOf(trial: TrialState, more: Previewed = {}): Previewed {
  return {
    ...trial.settings,
    ...more,
    values: trial.values,
    aside: { ...trial.aside, ...more.aside },
  }
}

const LEVELS = ['first', 'stop', 'average', 'upper', 'lower', 'range_limit'] as const

/** The segments, first and last, whose limits a trial changes; null where it changes none. */
export function changedSpan(kept: Chart, tried: Chart): [number, number] | null {
  const changed = tried.segments.flatMap((one, number) => {
    const was = kept.segments.find((other) => other.start === one.start)
    return was && LEVELS.every((level) => was[level] === one[level]) ? [] : [number]
  })
  const [first, last] = [changed[0], changed.at(-1)]
  return first === undefined || last === undefined ? null : [first, last]
}

/** A trial as it is kept. */
export function requestOf(trial: TrialState): Schemas['TrialRequest'] {
  return { settings: trial.settings, values: trial.values, aside: trial.aside }
}
