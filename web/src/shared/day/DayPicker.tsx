import '@mantine/dates/styles.css'
import { DateInput } from '@mantine/dates'
import type { RefObject } from 'react'
import type { DayProps } from './DayInput.tsx'
import { dayFormat, firstDayOfWeek, readDay } from './dayFormat.ts'

/** A day, typed in the order of the person's own locale or picked from a calendar. */
interface Props extends DayProps {
  takesFocus: RefObject<boolean>
}

export default function DayPicker({ min, max, value, onChange, takesFocus, ...props }: Props) {
  const format = dayFormat(navigator.language)
  return (
    <DateInput
      {...props}
      autoFocus={takesFocus.current}
      value={value || null}
      onChange={(chosen) => onChange(chosen ?? '')}
      valueFormat={format}
      placeholder={props.placeholder ?? format}
      dateParser={(text) => readDay(text, format)}
      firstDayOfWeek={firstDayOfWeek(navigator.language)}
      highlightToday
      {...(min ? { minDate: min } : {})}
      {...(max ? { maxDate: max } : {})}
      // In its place, so that a card it stands in does not take a day for a click outside.
      popoverProps={{ withinPortal: false }}
      clearButtonProps={{ 'aria-label': 'Clear the date' }}
    />
  )
}
