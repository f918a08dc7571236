// A trial: changes that are only looked at, one on top of the other, until kept or dropped. Pure.
import type { Schemas } from '../../../api/client.ts'
import type { Chart, Settings } from '../../data/chart.ts'
import type { Previewed } from '../../data/preview.ts'

/** What is tried. */
export interface Tried {
  settings: Settings
  values: Record<string, number>
  aside: Record<string, string | null>
}

/** The steps of a trial, and at which of them it is: undone ones are still there to redo. */
export interface Trial {
  steps: readonly Tried[]
  at: number
}

const NOTHING: Tried = { settings: {}, values: {}, aside: {} }

export const newTrial: Trial = { steps: [NOTHING], at: 0 }

export const triedNow = ({ steps, at }: Trial): Tried => steps[at] ?? NOTHING
export const canUndo = ({ at }: Trial) => at > 0
export const canRedo = ({ steps, at }: Trial) => at < steps.length - 1

/** Tries something on top of what is tried already. */
export function trying(trial: Trial, more: Partial<Tried>): Trial {
  const now = triedNow(trial)
  const next: Tried = {
    settings: { ...now.settings, ...more.settings },
    values: { ...now.values, ...more.values },
    aside: { ...now.aside, ...more.aside },
  }
  return { steps: [...trial.steps.slice(0, trial.at + 1), next], at: trial.at + 1 }
}

/** What is tried as a preview takes it, with some more settings or points on top. */
export function previewOf(tried: Tried, more: Previewed = {}): Previewed {
  return {
    ...tried.settings,
    ...more,
    values: tried.values,
    aside: { ...tried.aside, ...more.aside },
  }
}

const LEVELS = ['first', 'stop', 'average', 'upper', 'lower', 'range_limit'] as const

/** The segments, first and last, whose limits a trial changes; null where it changes none. */
export function changedSpan(kept: Chart, tried: Chart): [number, number] | null {
  const changed = tried.segments.flatMap((segment, number) => {
    const was = kept.segments.find((other) => other.start === segment.start)
    return was && LEVELS.every((level) => was[level] === segment[level]) ? [] : [number]
  })
  const [first, last] = [changed[0], changed.at(-1)]
  return first === undefined || last === undefined ? null : [first, last]
}

/** What is tried as it is kept. */
export function requestOf({ settings, values, aside }: Tried): Schemas['TrialRequest'] {
  return { settings, values, aside }
}
