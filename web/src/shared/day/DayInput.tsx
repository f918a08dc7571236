import { TextInput } from '@mantine/core'
import { lazy, Suspense, startTransition, useRef, useState } from 'react'
import { dayFormat, readDay, writeDay } from './dayFormat.ts'

export interface DayProps {
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

const DayPicker = lazy(() => import('./DayPicker.tsx'))

/** A day to choose: typed, or picked from a calendar that is loaded when the field is reached. */
export function DayInput(props: DayProps) {
  const [reached, setReached] = useState(false)
  // The calendar takes the focus over, unless it has gone elsewhere by the time that it comes.
  const focused = useRef(false)
  return (
    <Suspense fallback={<Typed {...props} />}>
      {reached ? (
        <DayPicker {...props} takesFocus={focused} />
      ) : (
        // What is there stays until the calendar has come, and what is typed by then holds.
        <Typed
          {...props}
          onFocus={() => {
            focused.current = true
            startTransition(() => setReached(true))
          }}
          onLeave={() => {
            focused.current = false
          }}
        />
      )}
    </Suspense>
  )
}

interface TypedProps extends DayProps {
  onFocus?: () => void
  onLeave?: () => void
}

function Typed({ value, onChange, onFocus, onLeave, ...props }: TypedProps) {
  const format = dayFormat(navigator.language)
  const [text, setText] = useState<string | null>(null)
  const { label, placeholder = format, size, w, error } = props
  return (
    <TextInput
      {...{ label, placeholder, size, w, error, onFocus }}
      aria-label={props['aria-label']}
      value={text ?? (value && writeDay(value, format))}
      onChange={(event) => {
        setText(event.currentTarget.value)
        const day = readDay(event.currentTarget.value, format)
        if (day) onChange(day)
      }}
      onBlur={() => {
        setText(null)
        onLeave?.()
      }}
    />
  )
}
