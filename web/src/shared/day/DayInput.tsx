import { CloseButton, Popover, TextInput } from '@mantine/core'
import { lazy, Suspense, useRef, useState } from 'react'
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

/** The days that can be told: those that every screen can compute with. */
const FIRST_DAY = '1800-01-01'
const LAST_DAY = '2200-12-31'

const DayCalendar = lazy(() => import('./DayCalendar.tsx'))

/**
 * Whether a calendar is open: Escape, or a click beside it, then closes it alone, and not
 * the card or the window that its field is in.
 */
export const calendarIsOpen = () => document.querySelector('[data-day-calendar]') !== null

/**
 * A day to choose: typed in the order of the person's own locale, or picked from a calendar.
 *
 * The calendar opens beside the field at a click, or is entered with the arrow down, and is
 * loaded then: what is typed or marked in the field stays as it is.
 */
export function DayInput({
  min = FIRST_DAY,
  max = LAST_DAY,
  value,
  onChange,
  clearable,
  error,
  ...props
}: Props) {
  const format = dayFormat(navigator.language)
  const [text, setText] = useState<string | null>(null)
  const typed = text === null ? null : readDay(text, format)
  const outside = typed !== null && (typed < min || typed > max)
  const [open, setOpen] = useState(false)
  const [entered, setEntered] = useState(false)

  const field = useRef<HTMLInputElement>(null)

  function turn(opened: boolean, byKey = false) {
    // Before the calendar goes, and what is focused in it with it.
    if (!opened && document.activeElement?.closest('[data-day-calendar]')) field.current?.focus()
    setOpen(opened)
    setEntered(opened && byKey)
  }

  function type(written: string) {
    setText(written)
    const day = readDay(written, format)
    if (day !== null && day >= min && day <= max) onChange(day)
    else if (clearable && !written.trim()) onChange('')
  }

  function choose(day: string) {
    setText(null)
    turn(false)
    onChange(day)
  }

  return (
    <Popover
      opened={open}
      onChange={(opened) => turn(opened)}
      position="bottom-start"
      width="max-content"
      shadow="md"
    >
      <Popover.Target>
        <TextInput
          {...props}
          ref={field}
          role="combobox"
          error={
            outside ? `From ${writeDay(min, format)} to ${writeDay(max, format)}` : (error ?? null)
          }
          data-mantine-stop-propagation={open}
          placeholder={props.placeholder ?? format}
          value={text ?? (value && writeDay(value, format))}
          onChange={(event) => type(event.currentTarget.value)}
          onClick={() => turn(true)}
          onBlur={(event) => {
            setText(null)
            const into = event.relatedTarget
            if (!(into instanceof Element && into.closest('[data-day-calendar]'))) turn(false)
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter' || event.key === 'Escape') turn(false)
            if (event.key === 'ArrowDown') {
              event.preventDefault()
              turn(true, true)
            }
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
      {/* The field keeps the focus while days are looked through with the mouse. */}
      <Popover.Dropdown data-day-calendar onMouseDown={(event) => event.preventDefault()}>
        <Suspense>
          <DayCalendar {...{ min, max, value, entered }} onChoose={choose} />
        </Suspense>
      </Popover.Dropdown>
    </Popover>
  )
}
