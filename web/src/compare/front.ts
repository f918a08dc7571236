// What of the comparisons others show: the views, loaded when one is shown, and their drawings.
import { lazy } from 'react'

export { type Areas, domainOf, type Measure } from './compare.ts'
export { shippedCountries } from './countries.ts'
export { LagCurve } from './LagCurve.tsx'
export { MapDrawing } from './MapDrawing.tsx'
export { Scatter } from './Scatter.tsx'
export { ShareColumns, shareTone } from './ShareColumns.tsx'

export const PartsView = lazy(async () => ({
  default: (await import('./PartsView.tsx')).PartsView,
}))
export const GoalView = lazy(async () => ({ default: (await import('./GoalView.tsx')).GoalView }))
export const PairView = lazy(async () => ({ default: (await import('./PairView.tsx')).PairView }))
export const PlacesView = lazy(async () => ({
  default: (await import('./PlacesView.tsx')).PlacesView,
}))
export const SharesView = lazy(async () => ({
  default: (await import('./SharesView.tsx')).SharesView,
}))
