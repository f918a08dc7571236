// How a chart is looked at: which dates, by which grain, which part of it, which finding beside it.
import { useViewportSize } from '@mantine/hooks'
import { useSearchParams } from 'react-router'
import type { Chart, Grain } from '../../chart/model/types.ts'
import type { View } from '../data/chart.ts'
import { type Stretch, wholeOf, zoomedStretch } from './drafts/stretch.ts'

/** Where it is kept: what can be sent to a colleague is in the address. */
export function useLook() {
  const viewport = useViewportSize()
  const [address, setAddress] = useSearchParams()
  const [first, last] = [address.get('from'), address.get('to')]
  const stretch: Stretch | null = first && last ? { first, last } : null
  const by = address.get('by') as Grain | null
  const breakdown = address.get('of')
  // Rounded, so that a scrollbar that comes and goes asks for nothing new.
  const width = Math.max(300, Math.round((viewport.width || 1280) / 100) * 100)
  const view: View = {
    width,
    ...stretch,
    ...(by ? { by } : {}),
    ...(breakdown ? { breakdown } : {}),
  }

  function change(names: Record<string, string | null>) {
    const next = new URLSearchParams(address)
    for (const [name, value] of Object.entries(names)) {
      if (value) next.set(name, value)
      else next.delete(name)
    }
    setAddress(next, { replace: true })
  }

  const setStretch = (to: Stretch | null) =>
    change({ from: to?.first ?? null, to: to?.last ?? null })

  return {
    view,
    viewport,
    stretch,
    setStretch,
    breakdown,
    viewName: address.get('view'),
    /** The period at which a shift is to be reviewed, where somebody comes for that. */
    review: address.get('review'),
    reviewTaken: () => change({ review: null }),
    /** The period whose point is to be chosen, where somebody comes for that. */
    point: address.get('point'),
    pointTaken: () => change({ point: null }),
    finding: Number(address.get('finding')) || null,
    openFinding: (id: number | null) => change({ finding: id === null ? null : String(id) }),
    /** Shows so many times the dates of a chart, around a share of them that stays in its place. */
    zoom: (chart: Chart, factor: number, around = 0.5) => {
      const whole = wholeOf(chart)
      if (!whole) return
      const on = { around, whole, grain: chart.kpi.grain }
      setStretch(zoomedStretch(stretch ?? whole, factor, on))
    },
    /** Shows another grain or breakdown. */
    show: (what: {
      by?: string | null
      of?: string | null
      from?: string | null
      to?: string | null
      view?: string | null
    }) => {
      change({ from: null, to: null, ...what })
    },
  }
}
