/** The time zones to choose from: those that the browser knows, with UTC once whether it lists it or not. */
export function timeZones(): string[] {
  return [...new Set([...Intl.supportedValuesOf('timeZone'), 'UTC'])]
}
