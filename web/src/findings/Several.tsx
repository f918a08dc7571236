import { Button, TextInput } from '@mantine/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { counted } from '../shared/writing.ts'
import classes from './Findings.module.css'
import { type Finding, useSeveralActs } from './findings.ts'

/** One cause for several findings. */
export function Several({
  workspace,
  findings,
  onDone,
}: {
  workspace: string
  findings: Finding[]
  onDone: () => void
}) {
  const [cause, setCause] = useState('')
  const several = useSeveralActs(workspace, onDone)
  const changes = { state: 'explained' as const, cause: cause.trim() }
  return (
    <form
      className={`card ${classes.several}`}
      aria-label="One cause for several findings"
      onSubmit={(event) => {
        event.preventDefault()
        if (changes.cause) several.mutate({ findings, changes })
      }}
    >
      <b>{counted(findings.length, 'finding')} chosen</b>
      <Button component={Link} size="xs" variant="default" to={meetingOf(workspace, findings)}>
        Show in a meeting
      </Button>
      <TextInput
        size="xs"
        style={{ flex: 1 }}
        aria-label="Their cause"
        placeholder="The cause of all of them"
        maxLength={500}
        value={cause}
        onChange={(event) => setCause(event.currentTarget.value)}
      />
      <Button size="xs" type="submit" disabled={!changes.cause} loading={several.isPending}>
        Explain them
      </Button>
      <Button size="xs" variant="default" onClick={onDone}>
        Choose none
      </Button>
    </form>
  )
}

/** Where the charts of some findings are shown, one after the other. */
function meetingOf(workspace: string, findings: Finding[]): string {
  const query = new URLSearchParams()
  for (const { kpi, id } of findings) {
    query.append('kpi', kpi)
    query.append('finding', String(id))
  }
  return `/${workspace}/meeting?${query}`
}
