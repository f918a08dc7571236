/** The number that stands in a field of numbers; null in an empty one. */
export const entered = (value: string | number) => (value === '' ? null : Number(value))
