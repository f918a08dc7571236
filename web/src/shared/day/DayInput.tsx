import { TextInput } from '@mantine/core'
import { lazy, Suspense, startTransition, useState } from 'react'
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
  return (
    <Suspense fallback={<Typed {...props} />}>
      {reached ? (
        <DayPicker {...props} />
      ) : (
        // What is there stays until the calendar has come, and what is typed by then holds.
        <Typed {...props} onFocus={() => startTransition(() => setReached(true))} />
      )}
    </Suspense>
  )
}

function Typed({ value, onChange, onFocus, ...props }: DayProps & { onFocus?: () => void }) {
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
      onBlur={() => setText(null)}
    />
  )
}
