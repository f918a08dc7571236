import { Button, Group, Select, TextInput } from '@mantine/core'
import { useState } from 'react'
import { Problem } from '../api/client.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Intake.module.css'
import { SheetRows } from './understood/SheetRows.tsx'
import { type Mapping, startingFrom, type Uploaded } from './understood/table.ts'

/** What a table does not tell at all, and has to be told once. */
const ASKED = {
  period: {
    label: 'For which period is this table?',
    placeholder: '2026-05, or 18 May 2026',
    act: 'Read it for that period',
    changes: (text: string): Mapping => ({ period: text }),
    fits: (text: string) => text !== '',
  },
  first_year: {
    label: 'In which year is its first row?',
    placeholder: '2026',
    act: 'Count on from that year',
    changes: (text: string): Mapping => ({ first_year: Number(text) }),
    fits: (text: string) => /^\d{4}$/.test(text),
  },
}

function askedOf(error: Error): keyof typeof ASKED | undefined {
  const fields = error instanceof Problem ? error.issues.map(({ field }) => field) : []
  return (['period', 'first_year'] as const).find((field) => fields.includes(field))
}

/** What is missing, as a question and not as a mistake. */
function Asks({ error }: { error: Error }) {
  const issues = error instanceof Problem ? error.issues : []
  return (
    <div className={`card ${classes.question}`} role="status">
      {issues.map(({ detail, remedy }) => (
        <p key={detail}>
          <b>{detail}</b> {remedy}
        </p>
      ))}
    </div>
  )
}

interface MissingProps {
  what: keyof typeof ASKED
  mapping: Mapping
  onChange: (mapping: Mapping) => void
}

/** Asks for what is missing: its period, or the year that its dates lack. */
function Missing({ what, mapping, onChange }: MissingProps) {
  const { label, placeholder, act, changes, fits } = ASKED[what]
  const [text, setText] = useState(String(mapping[what] ?? ''))
  const written = text.trim()
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (fits(written)) onChange({ ...mapping, ...changes(written) })
      }}
    >
      <Group mt="sm" align="end">
        <TextInput
          size="xs"
          label={label}
          placeholder={placeholder}
          maxLength={60}
          value={text}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <Button size="xs" type="submit" disabled={!fits(written)}>
          {act}
        </Button>
      </Group>
    </form>
  )
}

interface NotReadProps {
  error: Error
  uploaded: Uploaded
  mapping: Mapping
  setMapping: (mapping: Mapping) => void
  onStartOver: () => void
}

/** What can be done about a table that could not be read as it was told. */
export function NotRead({ error, uploaded, mapping, setMapping, onStartOver }: NotReadProps) {
  const asked = askedOf(error)
  return (
    <div className={classes.notice}>
      {asked ? <Asks error={error} /> : <Notice error={error} />}
      {asked && <Missing key={asked} what={asked} mapping={mapping} onChange={setMapping} />}
      <Group mt="sm">
        {uploaded.sheets.length > 1 && (
          <Select
            size="xs"
            aria-label="Sheet"
            placeholder="Another sheet"
            data={uploaded.sheets}
            value={mapping.sheet ?? null}
            onChange={(sheet) => setMapping({ ...startingFrom(null), sheet })}
          />
        )}
        <Button size="xs" variant="default" onClick={() => setMapping(startingFrom(null))}>
          Read it as it looks
        </Button>
        <Button size="xs" variant="default" onClick={onStartOver}>
          Use another table
        </Button>
      </Group>
      <SheetRows rows={uploaded.sheet_rows} mapping={mapping} onChange={setMapping} />
    </div>
  )
}
