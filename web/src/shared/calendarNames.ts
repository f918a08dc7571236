// The names of days and months, as choices.
export const WEEKDAYS = 'Monday Tuesday Wednesday Thursday Friday Saturday Sunday'
  .split(' ')
  .map((label, n) => ({ value: String(n), label }))

export const MONTH_NAMES =
  'January February March April May June July August September October November December'
    .split(' ')
    .map((label, n) => ({ value: String(n + 1), label }))
