// Days as people write them, in the order of their own locale. Pure.

/** How a locale writes a day: `DD/MM/YYYY`, `MM/DD/YYYY`, `YYYY-MM-DD`, as dayjs formats it. */
export function dayFormat(locale: string): string {
  const letters: Record<string, string> = { day: 'DD', month: 'MM', year: 'YYYY' }
  return new Intl.DateTimeFormat(locale, {
    day: '2-digit',
    month: '2-digit',
    year: 'numeric',
    calendar: 'gregory',
    numberingSystem: 'latn',
  })
    .formatToParts(new Date(Date.UTC(2026, 4, 18)))
    .map(({ type, value }) => letters[type] ?? value)
    .join('')
    .replace(/[\u200e\u200f]/g, '')
    .trim()
}

/** Writes a day, `2026-05-18`, in the order of a locale. */
export function writeDay(day: string, format: string): string {
  const [year = '', month = '', date = ''] = day.split('-')
  return format.replace('YYYY', year).replace('MM', month).replace('DD', date)
}

/** Reads a day written in the order of a locale, or as `2026-05-18`; null for what is none. */
export function readDay(text: string, format: string): string | null {
  const iso = text.trim().match(/^(\d{4})-(\d{1,2})-(\d{1,2})$/)
  if (iso) return day(iso[1], iso[2], iso[3])
  const numbers = text.match(/\d+/g)
  if (numbers?.length !== 3) return null
  const fields = (format.match(/DD|MM|YYYY/g) ?? []).map((letters, n) => [letters, numbers[n]])
  const { DD, MM, YYYY } = Object.fromEntries(fields) as Record<string, string>
  return day(YYYY?.length === 2 ? `20${YYYY}` : YYYY, MM, DD)
}

/** A day of the calendar; null where there is none, as the 31st of June. */
function day(year = '', month = '', date = ''): string | null {
  const text = `${year.padStart(4, '0')}-${month.padStart(2, '0')}-${date.padStart(2, '0')}`
  const time = Date.parse(`${text}T00:00Z`)
  const real = !Number.isNaN(time) && new Date(time).toISOString().slice(0, 10) === text
  return real && year.length === 4 ? text : null
}

/** The first day of the week in a locale, as dayjs counts: Sunday is 0. */
export function firstDayOfWeek(locale: string): 0 | 1 | 6 {
  const localeInfo = new Intl.Locale(locale) as Intl.Locale & {
    getWeekInfo?: () => { firstDay: number }
  }
  const first = (localeInfo.getWeekInfo?.().firstDay ?? 1) % 7
  return first === 0 || first === 6 ? first : 1
}
