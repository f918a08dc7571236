import { Button, TextInput } from '@mantine/core'
import { IconAlertTriangle, IconCheck, IconNote } from '@tabler/icons-react'
import { type ClipboardEvent, type KeyboardEvent, useId, useRef, useState } from 'react'
import { Link } from 'react-router'
import { typingOf } from '../shared/typing.ts'
import { longPeriod } from '../shared/writing.ts'
import { keyOf } from './drafts.ts'
import { FilledBy } from './FilledBy.tsx'
import classes from './FillIn.module.css'
import type { DueValue, ValueCheck } from './fillIn.ts'
import type { Filling } from './useFilling.ts'

interface Props {
  workspace: string
  value: DueValue
  filling: Filling
  may: boolean
  edits: boolean
  onKey: (event: KeyboardEvent<HTMLInputElement>) => void
  onPaste: (event: ClipboardEvent<HTMLInputElement>) => void
}

/** One value that is due: what was, what to expect, and where it is typed. */
export function DueRow({ workspace, value, filling, may, edits, onKey, onPaste }: Props) {
  const [noting, setNoting] = useState(false)
  const says = useId()
  const why = useRef<HTMLInputElement>(null)
  const key = keyOf(value)
  const draft = filling.drafts[key]
  const check = filling.checks.get(key)
  const typing = typingOf(value)
  const wrong = draft ? typing.wrong(draft.text) : null
  const what = [value.name, value.breakdown].filter(Boolean).join(', ')
  const when = longPeriod(value.period, value.grain)
  const asks = noting || Boolean(draft?.why) || check?.asks === true
  return (
    <li className={classes.row}>
      <div className={classes.what}>
        <Link to={`/${workspace}/charts/${value.kpi}`}>{what}</Link>
        <span>{when}</span>
        <FilledBy workspace={workspace} value={value} edits={edits} />
      </div>
      <div className={classes.before}>
        <span>
          {value.last || 'no value yet'}
          <span className="quiet"> in {inText(value)}</span>
        </span>
        {value.expected && <span className="quiet">expect {value.expected}</span>}
      </div>
      <div className={classes.typed}>
        <TextInput
          aria-label={`${what}, ${when}${value.unit ? `, ${value.unit}` : ''}`}
          aria-describedby={says}
          data-due
          size="sm"
          inputMode={value.aggregation === 'ratio' ? 'text' : 'decimal'}
          enterKeyHint="next"
          autoComplete="off"
          placeholder={value.aggregation === 'ratio' ? typing.hint : value.unit}
          disabled={!may}
          value={draft?.text ?? ''}
          error={wrong !== null}
          onChange={(event) => filling.type(value, { text: event.currentTarget.value })}
          onKeyDown={(event) => {
            // What is asked for comes before the next one.
            const plain =
              event.key === 'Enter' && !(event.shiftKey || event.ctrlKey || event.metaKey)
            if (plain && asks && why.current) {
              event.preventDefault()
              why.current.focus()
            } else onKey(event)
          }}
          onPaste={onPaste}
        />
        <span id={says} className={classes.says} data-stands={stands(draft?.refused, wrong, check)}>
          <Says refused={draft?.refused} wrong={wrong} check={check} />
        </span>
        {draft?.text && !asks && (
          <Button
            size="compact-sm"
            variant="subtle"
            leftSection={<IconNote size={14} aria-hidden />}
            onClick={() => setNoting(true)}
          >
            Note
          </Button>
        )}
      </div>
      {asks && (
        <TextInput
          ref={why}
          className={classes.why}
          size="sm"
          autoFocus={noting}
          label={check?.asks ? 'What happened?' : 'Note'}
          maxLength={500}
          placeholder={
            check?.asks ? 'Kept with the value, and as the cause of its finding' : undefined
          }
          value={draft?.why ?? ''}
          onChange={(event) => filling.type(value, { why: event.currentTarget.value })}
          onKeyDown={onKey}
        />
      )}
    </li>
  )
}

const inText = (value: DueValue) =>
  value.grain === 'week' ? `the week of ${value.last_label}` : value.last_label

function stands(refused: string | undefined, wrong: string | null, check: ValueCheck | undefined) {
  return refused || wrong ? 'wrong' : check?.stands
}

function Says(props: { refused?: string; wrong: string | null; check?: ValueCheck }) {
  const { refused, wrong, check } = props
  const text = refused || wrong || check?.text
  if (!text) return null
  const good = !refused && !wrong && check?.stands === 'within'
  const Icon = good ? IconCheck : IconAlertTriangle
  return (
    <>
      <Icon size={14} aria-hidden /> {text}
    </>
  )
}
