// The outlines of the countries of the world, which come with the application.
import type { FeatureCollection, Geometry } from 'geojson'
import { feature } from 'topojson-client'

export type Countries = FeatureCollection<Geometry, { name: string }>

let known: Countries | null = null

/** Those that have been loaded; null before. */
export const shippedCountries = () => known

/** Loads them, once. */
export async function loadCountries(): Promise<Countries | null> {
  if (known) return known
  const { default: world } = await import('world-atlas/countries-50m.json')
  const topology = world as unknown as Parameters<typeof feature>[0]
  const shapes = topology.objects.countries
  if (shapes) known = feature(topology, shapes) as unknown as Countries
  return known
}
