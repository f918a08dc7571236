import type { ClipboardEvent, KeyboardEvent } from 'react'
import classes from './Values.module.css'

interface Props {
  name: string
  label: string
  text: string
  hint: string
  /** Why what is typed for a number is none. */
  wrong: (text: string) => string | null
  numeric: boolean
  off: boolean
  reachable: boolean
  /** What is being typed; null while nothing is. */
  editing: string | null
  onFocus: () => void
  onEdit: (text: string) => void
  onStart: () => void
  onKeep: (text: string, by: number) => void
  onLeave: () => void
  onKey: (event: KeyboardEvent) => void
  onPaste: (event: ClipboardEvent) => void
}

/** One cell that can be written: a text until it is typed in. */
export function Cell(props: Props) {
  const { editing, numeric, off } = props
  const within = numeric ? 'value' : 'note'
  if (off) return <div role="gridcell" data-in={within} />
  if (editing === null) {
    return (
      <div
        role="gridcell"
        data-in={within}
        data-cell={props.name}
        data-numeric={numeric}
        className={classes.cell}
        tabIndex={props.reachable ? 0 : -1}
        aria-label={`${props.label}: ${props.text || 'empty'}`}
        onFocus={props.onFocus}
        onClick={(event) => {
          props.onFocus()
          // A finger has no second click, and no keys to begin with.
          if ((event.nativeEvent as PointerEvent).pointerType === 'touch') props.onStart()
        }}
        onDoubleClick={props.onStart}
        onKeyDown={props.onKey}
        onPaste={props.onPaste}
      >
        {props.text || <span className="quiet">{props.hint}</span>}
      </div>
    )
  }
  const wrong = numeric ? props.wrong(editing) : null
  return (
    <div role="gridcell" data-in={within} className={classes.cell} data-numeric={numeric}>
      <input
        // biome-ignore lint/a11y/noAutofocus: typing has just begun in this very cell
        autoFocus
        aria-label={props.label}
        aria-invalid={wrong !== null}
        title={wrong ?? undefined}
        inputMode={numeric ? 'decimal' : undefined}
        maxLength={numeric ? 40 : 500}
        value={editing}
        onChange={(event) => props.onEdit(event.currentTarget.value)}
        onBlur={() => !wrong && props.onKeep(editing, 0)}
        onKeyDown={(event) => {
          event.stopPropagation()
          if (event.key === 'Escape') props.onLeave()
          else if (event.key === 'Enter' && !wrong) props.onKeep(editing, 1)
        }}
      />
      {wrong && (
        <span role="alert" className={classes.wrong}>
          {wrong}
        </span>
      )}
    </div>
  )
}
