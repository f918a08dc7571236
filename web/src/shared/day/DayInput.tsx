import { CloseButton, Popover, TextInput } from '@mantine/core'
import { lazy, Suspense, useState } from 'react'
import { dayFormat, readDay, writeDay } from './dayFormat.ts'

interface Props {
  label?: string
  'aria-label'?: string
  placeholder?: string
  error?: string | null
  size?: 'xs' | 'sm'
  w?: number
  clearable?: boolean
  /** First and last day that can be chosen, as `2026-05-18`. */
  min?: string | undefined
  max?: string | undefined
  /** As `2026-05-18`; empty for none. */
  value: string
  onChange: (day: string) => void
}

const DayCalendar = lazy(() => import('./DayCalendar.tsx'))

/**
 * A day to choose: typed in the order of the person's own locale, or picked from a calendar.
 *
 * The calendar is loaded when the field is reached and opens beside it: what is typed or
 * marked in the field by then stays as it is.
 */
export function DayInput({ min, max, value, onChange, clearable, ...props }: Props) {
  const format = dayFormat(navigator.language)
  const [text, setText] = useState<string | null>(null)
  const [open, setOpen] = useState(false)

  function type(written: string) {
    setText(written)
    const day = readDay(written, format)
    const inside = day !== null && (!min || day >= min) && (!max || day <= max)
    if (inside) onChange(day)
    else if (clearable && !written.trim()) onChange('')
  }

  function choose(day: string) {
    setText(null)
    setOpen(false)
    onChange(day)
  }

  return (
    // In its place, so that a card it stands in does not take a day for a click outside.
    <Popover opened={open} onChange={setOpen} position="bottom-start" withinPortal={false}>
      <Popover.Target>
        <TextInput
          {...props}
          role="combobox"
          data-mantine-stop-propagation={open}
          placeholder={props.placeholder ?? format}
          value={text ?? (value && writeDay(value, format))}
          onChange={(event) => type(event.currentTarget.value)}
          onFocus={() => setOpen(true)}
          onClick={() => setOpen(true)}
          onBlur={(event) => {
            setText(null)
            const into = event.relatedTarget
            if (!(into instanceof Element && into.closest('[data-calendar]'))) setOpen(false)
          }}
          onKeyDown={(event) => {
            // Escape closes the calendar alone, not the card or the window that the field is in.
            if (open && event.key === 'Escape') event.stopPropagation()
            if (event.key === 'Enter' || event.key === 'Escape') setOpen(false)
          }}
          {...(clearable && value
            ? {
                rightSection: (
                  <CloseButton size="sm" aria-label="Clear the date" onClick={() => choose('')} />
                ),
              }
            : {})}
        />
      </Popover.Target>
      <Popover.Dropdown data-calendar>
        <Suspense>
          <DayCalendar {...{ min, max, value }} onChoose={choose} />
        </Suspense>
      </Popover.Dropdown>
    </Popover>
  )
}
