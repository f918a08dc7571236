import { Button, Group, Select, TextInput } from '@mantine/core'
import { useState } from 'react'
import { Problem } from '../api/client.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Intake.module.css'
import { SheetRows } from './understood/SheetRows.tsx'
import { type Mapping, startingFrom, type Uploaded } from './understood/table.ts'

function asksForPeriod(error: Error): boolean {
  return error instanceof Problem && error.issues.some(({ field }) => field === 'period')
}

/** The period of a table that has no dates, asked for once. */
function ForPeriod({
  mapping,
  onChange,
}: {
  mapping: Mapping
  onChange: (mapping: Mapping) => void
}) {
  const [period, setPeriod] = useState(mapping.period ?? '')
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (period.trim()) onChange({ ...mapping, period: period.trim() })
      }}
    >
      <Group mt="sm" align="end">
        <TextInput
          size="xs"
          label="For which period is this table?"
          placeholder="2026-05, or 18 May 2026"
          maxLength={60}
          value={period}
          onChange={(event) => setPeriod(event.currentTarget.value)}
        />
        <Button size="xs" type="submit" disabled={!period.trim()}>
          Read it for that period
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
  return (
    <div className={classes.notice}>
      <Notice error={error} />
      {asksForPeriod(error) && <ForPeriod mapping={mapping} onChange={setMapping} />}
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
