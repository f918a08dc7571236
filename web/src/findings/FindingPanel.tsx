import {
  Button,
  Group,
  NumberInput,
  SegmentedControl,
  Select,
  Skeleton,
  Textarea,
  TextInput,
} from '@mantine/core'
import { lazy, Suspense, useEffect, useRef, useState } from 'react'
import { Link } from 'react-router'
import { NameSuggestions } from '../for-you/NameSuggestions.tsx'
import { newDraft } from '../improvements/improvements.ts'
import { MakeImprovement } from '../improvements/MakeImprovement.tsx'
import { WhatMadeIt } from '../shared/contributions/WhatMadeIt.tsx'
import { DayInput } from '../shared/day/DayInput.tsx'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { moment, today } from '../shared/writing.ts'
import classes from './Findings.module.css'
import {
  BY_HAND,
  type Changes,
  type FindingDetail,
  STATE_NAMES,
  type State,
  useFinding,
  useFindingActs,
} from './findings.ts'
import { StatePill } from './StatePill.tsx'

interface Props {
  workspace: string
  number: number
  /** Whether to begin with its cause, to explain it. */
  explaining?: boolean
  /** Whether to name its KPI and lead to its chart: not on that chart itself. */
  elsewhere?: boolean
  /** Whether the focus goes into it, to its cause: it was opened by a key. */
  focused?: boolean
  /** Where one goes on once its cause has been given. */
  onExplained?: () => void
  onClose: () => void
}

/** One finding: why it is flagged, what is made of it, what else was going on, what was said. */
export function FindingPanel(props: Props) {
  const {
    workspace,
    number,
    explaining = false,
    elsewhere = false,
    focused = false,
    onExplained,
    onClose,
  } = props
  const [within, setWithin] = useState(3)
  const found = useFinding(workspace, number, within)
  const finding = found.data
  const panel = useRef<HTMLDivElement>(null)
  const here = finding !== undefined
  useEffect(() => {
    if (!here || !focused) return
    const into = panel.current
    const cause = into?.querySelector<HTMLElement>('textarea, [data-autofocus]')
    ;(cause ?? into?.querySelector<HTMLElement>('button'))?.focus({ preventScroll: true })
  }, [here, focused])
  if (found.isPending) return <Skeleton height={320} aria-label="Loading the finding" />
  if (found.error || !finding) return <Notice error={found.error} retry={found.refetch} />
  const form = (
    <Form
      key={finding.version}
      workspace={workspace}
      finding={finding}
      explaining={explaining && BY_HAND.includes(finding.state)}
      onExplained={onExplained}
    />
  )
  return (
    <div className={classes.panel} ref={panel} data-focus-home tabIndex={-1}>
      <Group justify="space-between" wrap="nowrap" align="start">
        <h2>{finding.title}</h2>
        <Button size="compact-xs" variant="subtle" onClick={onClose}>
          Close
        </Button>
      </Group>
      <Group gap="xs">
        <StatePill finding={finding} />
        <span className="quiet">
          {finding.label}
          {finding.favorable !== null && (finding.favorable ? ', favorable' : ', unfavorable')}
        </span>
      </Group>
      {elsewhere && (
        <Link to={`/${workspace}/charts/${finding.kpi}?finding=${finding.id}`}>
          {finding.kpi_name}: see it on its chart
        </Link>
      )}
      {elsewhere && (
        <Suspense fallback={<Skeleton height={230} />}>
          <OnItsChart workspace={workspace} finding={finding} />
        </Suspense>
      )}
      {/* In the log one comes to decide; beside its chart, to understand. */}
      {elsewhere && form}
      <h3>Why it is flagged</h3>
      {finding.presence === 'gone' && <p>It signals no more. When it did: {finding.text}</p>}
      <dl className={classes.why}>
        {finding.why.map((one) => (
          <Reason key={one.name} {...one} />
        ))}
        {finding.evidence.length > 0 && (
          <>
            <dt>Also</dt>
            <dd>
              <details>
                <summary>{finding.evidence.map((one) => one.title).join('; ')}</summary>
                {finding.evidence.map((one) => (
                  <p key={`${one.rule} ${one.text}`}>{one.text}</p>
                ))}
              </details>
            </dd>
          </>
        )}
      </dl>
      {finding.shared_out && (
        <WhatMadeIt path={{ workspace, kpi: finding.kpi }} asked={finding.shared_out} />
      )}
      {!elsewhere && form}
      <MakeImprovement
        workspace={workspace}
        draft={newDraft(
          today(),
          { slug: finding.kpi, ...wantedAfter(finding) },
          { finding: finding.id },
        )}
      />
      <Near finding={finding} workspace={workspace} within={within} onWithin={setWithin} />
      <Said finding={finding} workspace={workspace} />
    </div>
  )
}

// With it comes all that draws a chart.
const OnItsChart = lazy(async () => ({ default: (await import('./OnItsChart.tsx')).OnItsChart }))

/** What is done about a finding is to undo it where it was bad, and to make it last where it was good. */
function wantedAfter({ side, favorable }: FindingDetail) {
  const up = side > 0
  return { direction: up === (favorable ?? false) ? ('higher' as const) : ('lower' as const) }
}

function Reason({ name, text }: { name: string; text: string }) {
  return (
    <>
      <dt>{name}</dt>
      <dd>{text}</dd>
    </>
  )
}

/** What people make of it. */
function Form({
  workspace,
  finding,
  explaining,
  onExplained,
}: {
  workspace: string
  finding: FindingDetail
  explaining: boolean
  onExplained: (() => void) | undefined
}) {
  const { change } = useFindingActs(workspace)
  const may = useMay()
  const [own, setOwn] = useState<Changes>(
    explaining && finding.state !== 'explained' ? { state: 'explained' } : {},
  )
  const cause = useRef<HTMLTextAreaElement>(null)
  useEffect(() => {
    // Where the hand is in the list beside it stays where it is.
    if (explaining) cause.current?.focus({ preventScroll: true })
  }, [explaining])
  const now = { ...finding, ...own }
  const dirty = Object.keys(own).length > 0
  const unsaid = now.state === 'explained' && !now.cause.trim()
  const save = (onSuccess?: () => void) => {
    if (dirty && !unsaid)
      change.mutate({ finding, changes: own }, onSuccess ? { onSuccess } : undefined)
  }
  const states = BY_HAND.includes(finding.state) ? BY_HAND : [...BY_HAND, finding.state]
  return (
    <form
      className={classes.panel}
      aria-label="What is made of it"
      onSubmit={(event) => {
        event.preventDefault()
        save()
      }}
    >
      <h3>What is made of it</h3>
      <fieldset disabled={!may.add} className={classes.bare}>
        <SegmentedControl
          size="xs"
          aria-label="State"
          value={now.state}
          disabled={!may.add}
          data={states.map((state) => ({ value: state, label: STATE_NAMES[state] }))}
          onChange={(state) => setOwn({ ...own, state: state as State })}
        />
        <Textarea
          size="xs"
          label="Cause"
          autosize
          minRows={1}
          maxRows={4}
          maxLength={500}
          ref={cause}
          value={now.cause}
          error={unsaid ? 'Say what the cause was.' : null}
          onChange={(event) => setOwn({ ...own, cause: event.currentTarget.value })}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' || event.shiftKey || event.nativeEvent.isComposing) return
            event.preventDefault()
            save(onExplained)
          }}
        />
        <TextInput
          size="xs"
          label="Action"
          maxLength={500}
          value={now.action}
          onChange={(event) => setOwn({ ...own, action: event.currentTarget.value })}
        />
        <Group grow gap="xs">
          <Select
            size="xs"
            label="Person"
            placeholder="Nobody"
            clearable
            clearButtonProps={{ 'aria-label': 'Nobody' }}
            data={finding.people.map(({ username, name }) => ({ value: username, label: name }))}
            value={now.person}
            onChange={(person) => setOwn({ ...own, person })}
          />
          <DayInput
            size="xs"
            label="Due"
            clearable
            value={now.due ?? ''}
            onChange={(due) => setOwn({ ...own, due: due || null })}
          />
        </Group>
        <Group gap="xs">
          <Button
            size="xs"
            type="submit"
            display={may.add ? undefined : 'none'}
            disabled={!dirty || unsaid}
            loading={change.isPending}
          >
            Save
          </Button>
          {dirty && (
            <Button size="xs" variant="default" onClick={() => setOwn({})}>
              Leave it as it was
            </Button>
          )}
        </Group>
      </fieldset>
    </form>
  )
}

function Near({
  finding,
  workspace,
  within,
  onWithin,
}: {
  finding: FindingDetail
  workspace: string
  within: number
  onWithin: (within: number) => void
}) {
  const { findings, events, states, imports } = finding.surroundings
  const nothing = !findings.length && !events.length && !states.length && !imports.length
  return (
    <section aria-label="What else was going on">
      <Group justify="space-between" align="end" mb={4}>
        <h3>What else was going on</h3>
        <NumberInput
          size="xs"
          w={118}
          aria-label="Periods before and after"
          min={0}
          max={60}
          clampBehavior="strict"
          allowDecimal={false}
          prefix="within "
          value={within}
          onChange={(value) => typeof value === 'number' && onWithin(value)}
        />
      </Group>
      {nothing && <p className="quiet">Nothing on record. Look further before and after.</p>}
      <ul className={classes.near}>
        {findings.map((one) => (
          <li key={`${one.kpi} ${one.title} ${one.label}`}>
            <span>
              <Link to={`/${workspace}/charts/${one.kpi}`}>{one.kpi_name}</Link>: {one.title}
            </span>
            <span>{one.when}</span>
          </li>
        ))}
        {[...events, ...states].map((one) => (
          <li key={`${one.title} ${one.first}`}>
            <span>{one.title}</span>
            <span>{one.when}</span>
          </li>
        ))}
        {imports.map((one) => (
          <li key={`${one.kpi} ${one.title} ${one.when}`}>
            <span>
              {one.kpi_name}: {one.title}
            </span>
            <span>{one.when}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** Remarks, and what has happened to it. */
function Said({ finding, workspace }: { finding: FindingDetail; workspace: string }) {
  const { remark } = useFindingActs(workspace)
  const may = useMay()
  const [text, setText] = useState('')
  return (
    <section aria-label="Remarks and history">
      <h3>Remarks and history</h3>
      <ol className={classes.entries}>
        {finding.entries.map((one) => (
          <li key={one.id} data-remark={one.remark}>
            {one.text}
            <small>
              {one.author || 'The data'}, {moment(one.at)}
            </small>
          </li>
        ))}
      </ol>
      {may.add && (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            if (text.trim())
              remark.mutate({ number: finding.id, text }, { onSuccess: () => setText('') })
          }}
        >
          <Group gap="xs" mt={6} wrap="nowrap">
            <TextInput
              size="xs"
              style={{ flex: 1 }}
              aria-label="Remark"
              placeholder="Add a remark; @ names a person"
              maxLength={2000}
              value={text}
              onChange={(event) => setText(event.currentTarget.value)}
            />
            <Button
              size="xs"
              type="submit"
              variant="default"
              disabled={!text.trim()}
              loading={remark.isPending}
            >
              Add
            </Button>
          </Group>
          <NameSuggestions text={text} onChange={setText} />
        </form>
      )}
    </section>
  )
}
