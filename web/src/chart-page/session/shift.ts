// Placing and moving a shift: state that follows the hand, and the settings it stands for.
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react'
import { type Geometry, nearest } from '../../chart/model/geometry.ts'
import type { Chart } from '../../chart/model/types.ts'
import { type Review, type SegmentSettings, segmentSettings } from './chart.ts'

/** A shift in the hand: a new one, or an existing one on its way elsewhere. */
export interface Draft {
  /** Start of the segment that is being moved; null for a new shift. */
  from: string | null
  position: number
  period: string
  name: string
  what_changed: string
  /** Answers to the questions of the shift review. */
  review: Review
}

/** The segments as they would be with the draft; null where two would share a period. */
export function segmentsWith(chart: Chart, draft: Draft): SegmentSettings[] | null {
  const saved = segmentSettings(chart)
  const moved = saved.find((one) => one.start !== null && one.start === draft.from)
  const others = saved
    .filter((one) => one !== moved)
    .map((one) => (reaches(one, draft.period) ? { ...one, window: null } : one))
  if (others.some((one) => one.start === draft.period)) return null
  const { period: start, name, what_changed, review } = draft
  // Its name and its reasons are changed in its card; a move only moves it.
  const own: SegmentSettings = moved
    ? { ...moved, start }
    : { start, name, what_changed, review, centre: 'mean', spread: 'mean_range', follows: 'level' }
  const starts = new Map(chart.segments.map((one) => [one.start, one.first]))
  const place = (one: SegmentSettings) =>
    one === own ? draft.position : one.start === null ? 0 : (starts.get(one.start) ?? 0)
  return [...others, own].sort((a, b) => place(a) - place(b))
}

/** Whether the baseline of the segment before a shift would reach past it. */
function reaches({ start, window }: SegmentSettings, period: string): boolean {
  const at = Date.parse(period)
  return !!window && (start === null || Date.parse(start) < at) && Date.parse(window[1] ?? '') >= at
}

interface Acts {
  keep: (draft: Draft) => void
}

/** `chart` is the saved one: its segments are what a draft changes. */
export function useShift(chart: Chart | undefined, { keep }: Acts) {
  const [draft, setDraft] = useState<Draft | null>(null)
  const [dragging, setDragging] = useState(false)
  const latest = useRef(draft)
  latest.current = draft

  useEffect(() => {
    if (!draft) return
    const cancel = (event: globalThis.KeyboardEvent) => {
      if (event.key === 'Escape') {
        setDragging(false)
        setDraft(null)
      }
    }
    window.addEventListener('keydown', cancel)
    return () => window.removeEventListener('keydown', cancel)
  }, [draft])

  function periodAt(position: number): string | undefined {
    const index = chart?.points.position.indexOf(position) ?? -1
    return chart?.points.period[index]
  }

  function begin(position: number, known: Partial<Draft> = {}) {
    const period = periodAt(position)
    if (!period || position === 0 || chart?.segments.some((one) => one.first === position))
      return false
    setDraft({ from: null, position, period, name: '', what_changed: '', review: {}, ...known })
    return true
  }

  /** Moves the draft to the next drawn point in a direction that has room for a shift. */
  function step(by: number) {
    if (!draft || !chart) return
    const { position: positions } = chart.points
    let index = positions.indexOf(draft.position) + by
    const taken = new Set(
      chart.segments.filter((one) => one.start !== draft.from).map((one) => one.first),
    )
    while (positions[index] !== undefined && taken.has(positions[index] ?? -1))
      index += Math.sign(by)
    const position = positions[index]
    if (position) setDraft({ ...draft, position, period: periodAt(position) ?? draft.period })
  }

  /** Moves the draft to the first drawn point of a date or later that has room for a shift. */
  function moveTo(date: string) {
    if (!draft || !chart) return
    const { position: positions, period: periods } = chart.points
    const taken = new Set(chart.segments.map((one) => one.first))
    const index = periods.findIndex((one, n) => one >= date && !taken.has(positions[n] ?? 0))
    const position = positions[index]
    const period = periods[index]
    if (position && period) setDraft({ ...draft, position, period })
  }

  function hold(number: number): Draft | null {
    const segment = chart?.segments[number]
    if (!segment || segment.start === null) return null
    return {
      from: segment.start,
      position: segment.first,
      period: segment.start,
      name: segment.name ?? '',
      what_changed: segment.what_changed ?? '',
      review: segment.review ?? {},
    }
  }

  function onHandleDown(number: number, event: PointerEvent<SVGGElement>, geometry: Geometry) {
    if (event.button !== 0 || !chart) return
    const svg = event.currentTarget.ownerSVGElement
    // While a new shift is in the hand, its own handle is the one that moves.
    const held = draft?.from === null ? draft : hold(number)
    if (!svg || !held) return
    event.preventDefault()
    event.currentTarget.focus()
    const { left } = svg.getBoundingClientRect()
    setDragging(true)
    setDraft(held)
    latest.current = held
    // On the window, not the handle: a shift dragged past another changes places with it.
    const listening = new AbortController()
    const { signal } = listening
    const move = (moved: globalThis.PointerEvent) => {
      const index = nearest(geometry, moved.clientX - left)
      const position = index === null ? undefined : chart.points.position[index]
      const period = index === null ? undefined : chart.points.period[index]
      if (!position || !period || !latest.current) return
      if (position !== latest.current.position) setDraft({ ...latest.current, position, period })
    }
    const stop = () => {
      listening.abort()
      setDragging(false)
    }
    const drop = () => {
      stop()
      const dropped = latest.current
      if (!dropped || dropped.from === null) return
      if (dropped.period === dropped.from) setDraft(null)
      else keep(dropped)
    }
    window.addEventListener('pointermove', move, { signal })
    window.addEventListener('pointerup', drop, { signal })
    window.addEventListener('pointercancel', stop, { signal })
  }

  function onHandleKey(number: number, event: KeyboardEvent<SVGGElement>, remove: () => void) {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
    if (by) {
      event.preventDefault()
      event.stopPropagation()
      if (draft) step(by)
      else {
        const held = hold(number)
        if (held && chart) moveFrom(held, by)
      }
    } else if (event.key === 'Enter' && draft) {
      event.preventDefault()
      event.stopPropagation()
      if (draft.period === draft.from) setDraft(null)
      else keep(draft)
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && !draft) {
      event.preventDefault()
      remove()
    }
  }

  function moveFrom(held: Draft, by: number) {
    if (!chart) return
    const position = chart.points.position[chart.points.position.indexOf(held.position) + by]
    const period = position ? periodAt(position) : undefined
    if (!position || !period || chart.segments.some((one) => one.first === position)) return
    setDraft({ ...held, position, period })
  }

  return { draft, setDraft, dragging, begin, step, moveTo, onHandleDown, onHandleKey }
}
