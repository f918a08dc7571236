// What is in the hand and not kept yet: a shift, a point to set aside, a baseline; and the chart it
// would make.
import { useState } from 'react'
import type { Chart } from '../../chart/model/types.ts'
import type { AsideDraft } from '../bars/AsideBar.tsx'
import { type BaselineDraft, windowOf } from '../bars/BaselineBar.tsx'
import { type Place, type Previewed, segmentsBut, usePreview, type View } from './chart.ts'
import { type Draft, segmentsWith, useShift } from './shift.ts'
import { previewOf, type useTrial } from './trial.ts'

interface Drawn {
  /** The chart that acts are done on: as it is kept, or as it is tried. */
  base: Chart | undefined
  /** What is drawn while the hand is empty. */
  resting: Chart | undefined
  trial: ReturnType<typeof useTrial>
  keepShift: (draft: Draft) => void
}

export function useInHand(place: Place, view: View, { base, resting, trial, keepShift }: Drawn) {
  const shift = useShift(base, { keep: keepShift })
  const [aside, setAside] = useState<AsideDraft | null>(null)
  const [baseline, setBaseline] = useState<BaselineDraft | null>(null)
  const { draft } = shift
  // Without its name, which changes no number: typing it asks for no new preview.
  const drafted =
    base && draft ? segmentsWith(base, { ...draft, name: '', what_changed: '' }) : null
  const windowed =
    base && baseline
      ? segmentsBut(base, baseline.start, { window: windowOf(base, baseline) })
      : null
  const more = settingsOf()
  const preview = usePreview(place, view, more && trial.now ? previewOf(trial.now, more) : more)
  // What was previewed last is no preview of a point that has just been chosen.
  const previewed =
    drafted || ((aside || windowed) && !preview.isPlaceholderData) ? preview.data : undefined
  const drawn = previewed ?? resting
  // The segment whose start is nowhere in the chart: a preview can be a step behind the hand.
  const number = drawn
    ? drawn.segments.findIndex((one) => !base?.segments.some((kept) => kept.start === one.start))
    : -1

  function settingsOf(): Previewed | null {
    if (drafted) return { segments: drafted }
    if (windowed) return { segments: windowed }
    return aside && { aside: { [aside.period]: aside.back ? null : 'to be set aside' } }
  }

  /** The segments, first and last, whose limits are previewed; null where none are. */
  function span(): [number, number] | null {
    if (!previewed) return null
    const { segments } = previewed
    if (drafted) return number > 0 ? [number - 1, segments.length - 1] : null
    const at = aside
      ? segments.findLastIndex((one) => one.first <= aside.position)
      : segments.findIndex((one) => one.start === baseline?.start)
    return [at, at]
  }

  return {
    shift,
    aside,
    baseline,
    setAside,
    setBaseline,
    /** Whether there is anything. */
    full: draft !== null || aside !== null || baseline !== null,
    drawn,
    previewing: previewed !== undefined,
    span: span(),
    /** The segment that begins with the shift in the hand; -1 where there is none yet. */
    number,
    error: preview.error,
    drop: () => {
      shift.setDraft(null)
      setAside(null)
      setBaseline(null)
    },
  }
}
