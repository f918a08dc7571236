import '@mantine/dates/styles.css'
import { DatePicker } from '@mantine/dates'
import { useEffect, useRef } from 'react'
import { firstDayOfWeek } from './dayFormat.ts'

interface Props {
  min?: string | undefined
  max?: string | undefined
  value: string
  /** Whether it takes the focus, to be walked through by keys. */
  entered: boolean
  onChoose: (day: string) => void
}

/** The calendar that a day is picked from, at the month of the day that is chosen. */
export default function DayCalendar({ min, max, value, entered, onChoose }: Props) {
  const calendar = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (entered) calendar.current?.querySelector<HTMLElement>('td button[tabindex="0"]')?.focus()
  }, [entered])
  return (
    <DatePicker
      ref={calendar}
      // Written into the field meanwhile, another month is turned to.
      key={value}
      value={value || null}
      {...(value ? { defaultDate: value } : {})}
      onChange={(day) => day && onChoose(day)}
      firstDayOfWeek={firstDayOfWeek(navigator.language)}
      highlightToday
      {...(min ? { minDate: min } : {})}
      {...(max ? { maxDate: max } : {})}
    />
  )
}
