import { TextInput } from '@mantine/core'
import { useRef, useState } from 'react'
import classes from './InPlace.module.css'

interface Props {
  /** What it is of the KPI, as the field is called: `Name`. */
  label: string
  value: string
  /** What stands there where there is none. */
  none?: string
  maxLength: number
  required?: boolean
  saving: boolean
  /** Why it could not be kept. */
  error: string | null
  /** Keeps it; `done` is called once it is kept. */
  onSave: (value: string, done: () => void) => void
}

/** Words of the head that are edited where they stand: a click or Enter, then Enter or Escape. */
export function InPlace({ label, value, none = '', maxLength, required, ...props }: Props) {
  const { saving, error, onSave } = props
  const [typed, setTyped] = useState<string | null>(null)
  const opener = useRef<HTMLButtonElement>(null)
  const [sent, setSent] = useState(false)
  const close = () => {
    setTyped(null)
    setSent(false)
    setTimeout(() => opener.current?.focus())
  }
  if (typed === null)
    return (
      <button
        ref={opener}
        type="button"
        className={classes.words}
        data-none={!value || undefined}
        title={`Change: ${label.toLowerCase()}`}
        onClick={() => setTyped(value)}
      >
        {value || none}
      </button>
    )
  const wanted = typed.trim()
  const keep = () => {
    if (saving || (required && !wanted)) return
    if (wanted === value) close()
    else {
      setSent(true)
      onSave(wanted, close)
    }
  }
  return (
    <TextInput
      className={classes.field}
      aria-label={label}
      size="sm"
      autoFocus
      maxLength={maxLength}
      value={typed}
      error={sent && !saving ? error : null}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onFocus={(event) => event.currentTarget.select()}
      onBlur={() => (wanted === value ? close() : undefined)}
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key === 'Enter') keep()
        if (event.key === 'Escape') close()
      }}
      rightSectionWidth={60}
      rightSection={
        wanted !== value && (
          <button
            type="button"
            className={classes.keep}
            disabled={saving || (required && !wanted)}
            onClick={keep}
          >
            Keep
          </button>
        )
      }
    />
  )
}
