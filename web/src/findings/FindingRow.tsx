import { Checkbox } from '@mantine/core'
import { MarkIcon } from '../chart/layers/Mark.tsx'
import { useSession } from '../shared/session.ts'
import classes from './Findings.module.css'
import { BY_HAND, type Finding, useFindingActs } from './findings.ts'
import { StatePill } from './StatePill.tsx'

/** The cause of what is one by the rules, and none to the people who know the process. */
const NO_SIGNAL = 'Not a signal for us'

/** A finding in the log: pressed it opens, and keys do what is done most. */
export function FindingRow({
  finding,
  current,
  chosen,
  onChoose,
  workspace,
  onOpen,
  onExplain,
}: {
  finding: Finding
  current: boolean
  chosen: boolean
  onChoose: () => void
  workspace: string
  onOpen: (byKey: boolean) => void
  onExplain: () => void
}) {
  const me = useSession().data?.username
  const { change } = useFindingActs(workspace)
  const row = (
    <button
      type="button"
      data-row
      className={classes.row}
      aria-current={current}
      // A press of a key is a click without a pointer.
      onClick={(event) => onOpen(event.detail === 0)}
      onKeyDown={(event) => {
        if (event.ctrlKey || event.metaKey || event.altKey) return
        const key = event.key.toLowerCase()
        if (key === 'l' && finding.state === 'open')
          change.mutate({ finding, changes: { state: 'looking' } })
        else if (key === 'a' && me && finding.person !== me)
          change.mutate({ finding, changes: { person: me } })
        else if (key === 's') onChoose()
        else if (key === 'n' && BY_HAND.includes(finding.state))
          change.mutate({ finding, changes: { state: 'explained', cause: NO_SIGNAL } })
        else if (key === 'c') {
          // Or the letter would be typed into the field that takes the focus.
          event.preventDefault()
          onExplain()
        }
      }}
    >
      <MarkIcon kind={finding.mark} />
      <span className={classes.sentence}>
        <b>
          {finding.kpi_name}: {finding.title}
        </b>{' '}
        {finding.cause || finding.text}
      </span>
      <span className={classes.about}>
        <span className="quiet">
          {[
            finding.label,
            finding.person_name,
            finding.evidence.length > 0 && `${finding.evidence.length} more say the same`,
          ]
            .filter(Boolean)
            .join(' · ')}
        </span>
        <StatePill finding={finding} />
      </span>
    </button>
  )
  return (
    <div className={classes.chooser}>
      <Checkbox
        size="xs"
        tabIndex={-1}
        aria-label={`Choose ${finding.title} of ${finding.label}`}
        checked={chosen}
        onChange={onChoose}
      />
      {row}
    </div>
  )
}
