import { extent } from 'd3-array'
import { geoMercator, geoPath } from 'd3-geo'
import type { Feature, FeatureCollection } from 'geojson'
import { useMemo } from 'react'
import { WordsAtPoint } from '../chart/small/WordsAtPoint.tsx'
import { fitted, textWidth } from '../chart/text/measure.ts'
import type { Areas, PlacedParts } from './compare.ts'
import type { Countries } from './countries.ts'

interface Props {
  data: PlacedParts
  areas: Areas | undefined
  /** The countries of the world; null where they have not been loaded. */
  world: Countries | null
  strong: string | null
  onStrong: (name: string | null) => void
  width: number
  height: number
}

/** A map without tiles: circles where coordinates are known, shaded areas or countries else. */
export function MapDrawing({ data, areas, world, strong, onStrong, width, height }: Props) {
  const countries = outlinesFor(data, world)
  const [low = 0, high = 1] = extent(data.parts.flatMap(({ value }) => value ?? []))
  const share = (value: number | null) =>
    value === null ? 0 : high > low ? (value - low) / (high - low) : 0.5
  const byArea = new Map(data.parts.flatMap((part) => (part.area ? [[part.area, part]] : [])))
  const byCountry = new Map(
    data.parts.flatMap((part) => (part.country ? [[Number(part.country), part]] : [])),
  )
  const points = data.parts.filter((part) => part.latitude !== null && part.area === null)
  const focus = useMemo(() => focusOf(data, areas, countries), [data, areas, countries])
  const fitTo: FeatureCollection = { type: 'FeatureCollection', features: focus }
  const [w, h] = [width, height]
  const projection = geoMercator().fitExtent(
    [
      [60, 40],
      [w - 60, h - 40],
    ],
    fitTo,
  )
  // One place alone has no extent to fit.
  if (!Number.isFinite(projection.scale()) || projection.scale() > 60_000) projection.scale(60_000)
  const path = geoPath(projection)
  // As opacity: paper knows no mixing of colors.
  const shade = (part: PlacedParts['parts'][number] | undefined) =>
    part === undefined
      ? { fill: 'var(--card)' }
      : part.value === null
        ? { fill: 'var(--ground)' }
        : { fill: 'var(--sea)', fillOpacity: 0.15 + 0.75 * share(part.value) }
  const light = (name: string | undefined) => ({
    onPointerEnter: () => name && onStrong(name),
    onPointerLeave: () => onStrong(null),
  })
  return (
    <svg width={w} height={h} role="img" aria-label={`Map of ${data.name} by place`}>
      <rect width={w} height={h} fill="var(--mist)" fillOpacity={0.5} />
      {countries?.features.map((country) => {
        const part = byCountry.get(Number(country.id))
        return (
          <path
            key={`${country.id} ${country.properties.name}`}
            d={path(country) ?? ''}
            {...shade(part)}
            stroke={part && part.name === strong ? 'var(--ink)' : 'var(--hairline)'}
            strokeWidth={part && part.name === strong ? 1.8 : 0.7}
            {...light(part?.name)}
          >
            {part && <title>{`${part.name}: ${part.text}`}</title>}
          </path>
        )
      })}
      {areas?.features.map((area) => {
        const part = byArea.get(area.properties.name)
        return (
          <path
            key={area.properties.name}
            d={path(area) ?? ''}
            {...shade(part)}
            stroke={part && part.name === strong ? 'var(--ink)' : 'var(--quiet)'}
            strokeWidth={part && part.name === strong ? 1.8 : 0.7}
            {...light(part?.name)}
          >
            <title>{part ? `${part.name}: ${part.text}` : area.properties.name}</title>
          </path>
        )
      })}
      {points.map((part) => {
        const at = projection([part.longitude ?? 0, part.latitude ?? 0])
        if (!at) return null
        const radius = 6 + 16 * Math.sqrt(share(part.value))
        const text = `${part.name} ${part.text}`
        const left = at[0] + radius + 6 + textWidth(text, 600) > w
        return (
          <g key={part.name} {...light(part.name)} data-place-of={part.name}>
            <circle
              cx={at[0]}
              cy={at[1]}
              r={radius}
              fill="var(--sea)"
              fillOpacity={0.55}
              stroke={part.name === strong ? 'var(--ink)' : 'var(--sea)'}
              strokeWidth={part.name === strong ? 2.4 : 1.2}
            />
            <WordsAtPoint
              x={at[0]}
              y={at[1] + 4}
              gap={radius + 5}
              left={left}
              weight={part.name === strong ? 700 : 600}
            >
              {fitted(text, w * 0.4, 600)}
            </WordsAtPoint>
          </g>
        )
      })}
    </svg>
  )
}

/** Whether there is anything to show on a map. */
export const hasPlaces = (data: PlacedParts, areas: Areas | undefined, world: Countries | null) =>
  focusOf(data, areas, outlinesFor(data, world)).length > 0

/** The outlines of countries, where they tell: close by they would only mislead. */
const outlinesFor = (data: PlacedParts, world: Countries | null) =>
  data.parts.some(({ country }) => country) || isFar(data) ? world : null

/** Degrees between the places from which on the outlines of countries tell where they are. */
const FAR = 6

function isFar({ parts }: PlacedParts): boolean {
  const apart = (of: 'latitude' | 'longitude') => {
    const [low, high] = extent(parts.flatMap((part) => part[of] ?? []))
    return low === undefined || high === undefined ? 0 : high - low
  }
  return apart('latitude') > FAR || apart('longitude') > FAR
}

/** What the map shows: the parts that have places. */
function focusOf(
  data: PlacedParts,
  areas: Areas | undefined,
  countries: Countries | null,
): Feature[] {
  return data.parts.flatMap((part): Feature[] => {
    if (part.area) return areas?.features.filter((one) => one.properties.name === part.area) ?? []
    if (part.latitude !== null && part.longitude !== null)
      return [
        {
          type: 'Feature',
          properties: {},
          geometry: { type: 'Point', coordinates: [part.longitude, part.latitude] },
        },
      ]
    return part.country
      ? (countries?.features.filter((one) => Number(one.id) === Number(part.country)) ?? [])
      : []
  })
}
