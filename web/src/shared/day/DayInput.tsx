import { TextInput } from '@mantine/core'
import { lazy, Suspense, useState } from 'react'
import { dayFormat, writeDay } from './dayFormat.ts'

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

/** A day to choose. What picks it is loaded when the field first takes the focus. */
export function DayInput(props: DayProps) {
  const [reached, setReached] = useState(false)
  const { label, placeholder, size, w, value, error } = props
  const field = (
    <TextInput
      {...{ label, placeholder, size, w, error }}
      aria-label={props['aria-label']}
      value={value && writeDay(value, dayFormat(navigator.language))}
      readOnly
      onFocus={() => setReached(true)}
    />
  )
  return reached ? (
    <Suspense fallback={field}>
      <DayPicker {...props} />
    </Suspense>
  ) : (
    field
  )
}
