// A trial: changes that are only looked at, one on top of the other, until kept or dropped. Pure.
import type { Schemas } from '../../../api/client.ts'
import { type Intent, settle } from '../../data/change.ts'
import type { Chart, Settings } from '../../data/chart.ts'
import type { Previewed } from '../../data/preview.ts'

/** What is tried: settings as intentions, worked out on the chart as it is whenever it is asked for. */
export interface Tried {
  intents: readonly Intent[]
  values: Record<string, number>
  aside: Record<string, string | null>
}

/** The steps of a trial, and at which of them it is: undone ones are still there to redo. */
export interface Trial {
  steps: readonly Tried[]
  at: number
}

const NOTHING: Tried = { intents: [], values: {}, aside: {} }

export const newTrial: Trial = { steps: [NOTHING], at: 0 }

export const triedNow = ({ steps, at }: Trial): Tried => steps[at] ?? NOTHING
export const canUndo = ({ at }: Trial) => at > 0
export const canRedo = ({ steps, at }: Trial) => at < steps.length - 1

/** Tries something on top of what is tried already. */
export function trying(trial: Trial, more: Partial<Tried>): Trial {
  const now = triedNow(trial)
  const next: Tried = {
    intents: [...now.intents, ...(more.intents ?? [])],
    values: { ...now.values, ...more.values },
    aside: { ...now.aside, ...more.aside },
  }
  return { steps: [...trial.steps.slice(0, trial.at + 1), next], at: trial.at + 1 }
}

/** What is tried as a preview of a chart takes it, with some more settings or points on top. */
export function previewOf(tried: Tried, chart: Chart, more: Previewed = {}): Previewed {
  return {
    ...settledOn(chart, tried.intents),
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

/** What is tried as it is kept on a chart. */
export function requestOf(
  { intents, values, aside }: Tried,
  chart: Chart,
): Schemas['TrialRequest'] {
  return { settings: settledOn(chart, intents), values, aside }
}

/** What intentions come to on a chart, each on top of those before; throws where one has no room. */
function settledOn(chart: Chart, intents: readonly Intent[]): Settings {
  const settings: Settings = {}
  for (const intent of intents)
    Object.assign(settings, settle(intent, withSettings(chart, settings)))
  return settings
}

/** A chart with other settings, as far as intentions look at it: its numbers are those it had. */
function withSettings(chart: Chart, { segments, kept_limits }: Settings): Chart {
  const [any] = chart.segments
  return {
    ...chart,
    ...(segments &&
      any && {
        segments: segments.map((settings) => ({
          ...(chart.segments.find(({ start }) => start === settings.start) ?? any),
          ...settings,
        })) as Chart['segments'],
      }),
    ...(kept_limits && {
      kept_limits: kept_limits.map((kept) => ({ label: '', ...kept })) as Chart['kept_limits'],
    }),
  }
}
