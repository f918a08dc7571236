import { useId, useRef, useState } from 'react'
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
export function InPlace(props: Props) {
  const { label, value, none = '' } = props
  const [editing, setEditing] = useState(false)
  const opener = useRef<HTMLButtonElement>(null)
  if (editing)
    return (
      <Field
        {...props}
        onClose={() => {
          setEditing(false)
          setTimeout(() => opener.current?.focus())
        }}
      />
    )
  return (
    <button
      ref={opener}
      type="button"
      className={classes.words}
      data-none={!value || undefined}
      title={`Change: ${label.toLowerCase()}`}
      onClick={() => setEditing(true)}
    >
      {value || none}
    </button>
  )
}

// A field of the browser's own: the larger ones of the forms come with the cards that have them.
function Field({
  label,
  value,
  maxLength,
  required = false,
  saving,
  error,
  onSave,
  onClose,
}: Props & { onClose: () => void }) {
  const [typed, setTyped] = useState(value)
  const [sent, setSent] = useState(false)
  const why = useId()
  const wanted = typed.trim()
  const changed = wanted !== value
  const refused = sent && !saving && error !== null
  function keep() {
    if (saving || (required && !wanted)) return
    if (!changed) {
      onClose()
      return
    }
    setSent(true)
    onSave(wanted, onClose)
  }
  return (
    <span className={classes.field}>
      <input
        aria-label={label}
        aria-invalid={refused || undefined}
        aria-describedby={refused ? why : undefined}
        // biome-ignore lint/a11y/noAutofocus: it takes the place of what was just pressed
        autoFocus
        maxLength={maxLength}
        value={typed}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onFocus={(event) => event.currentTarget.select()}
        onBlur={() => !changed && onClose()}
        onKeyDown={(event) => {
          event.stopPropagation()
          if (event.key === 'Enter') keep()
          if (event.key === 'Escape') onClose()
        }}
      />
      {changed && (
        <button type="button" disabled={saving || (required && !wanted)} onClick={keep}>
          Keep
        </button>
      )}
      {refused && (
        <span id={why} role="alert" className={classes.why}>
          {error}
        </span>
      )}
    </span>
  )
}
