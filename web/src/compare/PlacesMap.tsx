import { useEffect, useState } from 'react'
import { useSize } from '../shared/looking/useSize.ts'
import classes from './Compare.module.css'
import type { Areas, PlacedParts } from './compare.ts'
import { type Countries, loadCountries, shippedCountries } from './countries.ts'
import { hasPlaces, MapDrawing } from './MapDrawing.tsx'

interface Props {
  data: PlacedParts
  areas: Areas | undefined
  strong: string | null
  onStrong: (name: string | null) => void
  height: number
}

/** A map of the parts, as wide as there is room for it. */
export function PlacesMap(props: Props) {
  const { ref, width } = useSize()
  const world = useCountries()
  if (!hasPlaces(props.data, props.areas, world))
    return <p className={classes.how}>None of the parts has a place yet: say where they are.</p>
  return (
    <div ref={ref}>
      {width > 0 && <MapDrawing {...props} world={world} width={Math.max(200, width)} />}
    </div>
  )
}

/** The countries of the world, which come with the application when a map is first opened. */
function useCountries(): Countries | null {
  const [countries, setCountries] = useState(shippedCountries)
  useEffect(() => {
    loadCountries().then(setCountries)
  }, [])
  return countries
}
