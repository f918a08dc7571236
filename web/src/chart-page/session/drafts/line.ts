// Lines and bands that a person puts on a chart, as settings. Pure.
import type { Schemas } from '../../../api/client.ts'
import type { Band, Line } from '../../../chart/model/types.ts'
import type { Intent } from '../../data/change.ts'
import type { Chart } from '../../data/chart.ts'

export type LineDraft = Required<Schemas['LineRequest']>
export type BandDraft = Required<Schemas['BandRequest']>

/** The colors of lines, in the order in which new ones take them. */
export const COLORS: LineDraft['color'][] = ['indigo', 'clay', 'ochre', 'slate', 'ink']
const DASHES: LineDraft['dash'][] = ['dashed', 'solid', 'dotted', 'long']

const newKey = () => crypto.randomUUID().slice(0, 8)

/** A line that is about to be added, told from the others by color and dash; it lies on none. */
export function newLine({ lines, kpi }: Chart): LineDraft {
  const factor = kpi.direction === 'higher' ? 0.75 : 1.25
  const taken = lines.some((line) => line.made === 'mean' && line.factor === factor)
  return {
    key: newKey(),
    made: taken ? 'median' : 'mean',
    name: '',
    number: kpi.target ?? 0,
    factor: taken ? 1 : factor,
    amount: 0,
    length: 4,
    per: 'period',
    deviations: 2,
    color: COLORS[lines.length % COLORS.length] ?? 'indigo',
    dash: DASHES[lines.length % DASHES.length] ?? 'dashed',
    weight: 'thin',
    shows: 'both',
    decimals: null,
    hidden: false,
    in_front: false,
    marks: 'none',
    shaded: false,
  }
}

/** A line as it is set, without what it comes to. */
export function settingsOf(line: Line | LineDraft): LineDraft {
  const { key, made, name, number, factor, amount, length, per, deviations } = line
  const { color, dash, weight, shows, decimals, hidden, in_front, marks, shaded } = line
  return {
    ...{ key, made, name, number, factor, amount, length, per, deviations },
    ...{ color, dash, weight, shows, decimals, hidden, in_front, marks, shaded },
  }
}

function bandSettings({ key, bottom, top, name, color, hidden }: Band | BandDraft): BandDraft {
  return { key, bottom, top, name, color, hidden }
}

/** The lines of a chart with one of them as it is meant now: in its place, or added at the end. */
export function linesWith({ lines }: Chart, draft: LineDraft): LineDraft[] {
  const kept = lines.map(settingsOf)
  return kept.some((line) => line.key === draft.key)
    ? kept.map((line) => (line.key === draft.key ? draft : line))
    : [...kept, draft]
}

/** Adds a line, or changes one. */
export const keepingLine =
  (draft: LineDraft): Intent =>
  (now) => ({ lines: linesWith(now, draft) })

/** Changes one line, by its key; null where it has gone. */
export function changingLine(key: string, changes: Partial<LineDraft>): Intent {
  return (now) => {
    const line = now.lines.find((line) => line.key === key)
    return line ? { lines: linesWith(now, { ...settingsOf(line), ...changes }) } : null
  }
}

/** Takes a line away, and the bands that end at it. */
export function removingLine(key: string): Intent {
  return (now) => {
    const bands = now.bands.filter(({ bottom, top }) => bottom !== key && top !== key)
    return {
      lines: now.lines.map(settingsOf).filter((line) => line.key !== key),
      ...(bands.length < now.bands.length ? { bands: bands.map(bandSettings) } : {}),
    }
  }
}

/** Draws a line one place earlier or later than it is, so over fewer or more of the others. */
export function movingLine(key: string, by: -1 | 1): Intent {
  return (now) => {
    const lines = now.lines.map(settingsOf)
    const at = lines.findIndex((line) => line.key === key)
    const [line, other] = [lines[at], lines[at + by]]
    if (!line || !other) return null
    lines[at] = other
    lines[at + by] = line
    return { lines }
  }
}

/** A band that is about to be added, between the first two lines. */
export function newBand({ lines, bands }: Chart): BandDraft | null {
  const [bottom, top] = lines
  if (!bottom || !top) return null
  return bandBetween(bottom, top, COLORS[(bands.length + 3) % COLORS.length] ?? 'slate')
}

type Ended = Pick<LineDraft, 'key'>

function bandBetween(bottom: Ended, top: Ended, color: BandDraft['color']): BandDraft {
  return { key: newKey(), bottom: bottom.key, top: top.key, name: '', color, hidden: false }
}

/** Adds what is offered: its lines, and the band between the two of a band. */
export function addingOffer({ lines, is_band }: Schemas['Offer']): Intent {
  const keyed = lines.map((line) => ({ ...settingsOf(line), key: newKey() }))
  const [bottom, top] = keyed
  const band = is_band && bottom && top ? bandBetween(bottom, top, 'slate') : null
  return (now) => ({
    lines: [...now.lines.map(settingsOf), ...keyed],
    ...(band ? { bands: [...now.bands.map(bandSettings), band] } : {}),
  })
}

/** Adds a band, or changes one. */
export function keepingBand(draft: BandDraft): Intent {
  return (now) => {
    const kept = now.bands.map(bandSettings)
    const is = kept.some((band) => band.key === draft.key)
    return {
      bands: is ? kept.map((band) => (band.key === draft.key ? draft : band)) : [...kept, draft],
    }
  }
}

export const removingBand =
  (key: string): Intent =>
  (now) => ({ bands: now.bands.map(bandSettings).filter((band) => band.key !== key) })
