import { ActionIcon, Button, Menu } from '@mantine/core'
import { IconDots } from '@tabler/icons-react'
import { useState } from 'react'
import { Link } from 'react-router'
import type { May } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { days, moment } from '../shared/writing.ts'
import classes from './Improvements.module.css'
import { type Aim, type Improvement, useImprovement } from './improvements.ts'
import { SmallCourse, SmallOutcome } from './SmallOutcome.tsx'

interface Props {
  workspace: string
  improvement: Improvement
  may: May
  onChange: () => void
  onRemove: () => void
}

/** One improvement: what was done since when, and of each KPI its chart, its state, what it brought. */
export function ImprovementRow({ workspace, improvement, may, onChange, onRemove }: Props) {
  const { name, text, owner_name, began, made_of, aims } = improvement
  const [told, setTold] = useState(false)
  return (
    <article className={`card ${classes.row}`} aria-label={name}>
      <header>
        <div>
          <h2>{name}</h2>
          <span className="quiet">
            {[`since ${days(began, began)}`, owner_name].filter(Boolean).join(' · ')}
          </span>
        </div>
        <Menu position="bottom-end">
          <Menu.Target>
            <ActionIcon variant="subtle" color="gray" aria-label={`More about ${name}`}>
              <IconDots size={18} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            {may.add && <Menu.Item onClick={onChange}>Change it…</Menu.Item>}
            <Menu.Item onClick={() => setTold(!told)}>
              {told ? 'Hide its history' : 'Its history'}
            </Menu.Item>
            {may.edit && <Menu.Item onClick={onRemove}>Remove it</Menu.Item>}
          </Menu.Dropdown>
        </Menu>
      </header>
      {(text || made_of) && (
        <p className={classes.text}>
          {text}{' '}
          {made_of && (
            <span className="quiet">
              Made from{' '}
              <Link
                to={`/${workspace}/charts/${made_of.kpi}${made_of.finding ? `?finding=${made_of.finding}` : ''}`}
              >
                {made_of.says}
              </Link>
              .
            </span>
          )}
        </p>
      )}
      {aims.map((aim) => (
        <Outcome key={aim.kpi} workspace={workspace} aim={aim} />
      ))}
      {aims.length === 0 && <p className="quiet">The KPI it was to move has been deleted.</p>}
      {told && <History workspace={workspace} number={improvement.id} />}
    </article>
  )
}

/** What came of it on one KPI. */
export function Outcome({ workspace, aim }: { workspace: string; aim: Aim }) {
  const chart = `/${workspace}/charts/${aim.kpi}`
  return (
    <div className={classes.outcome}>
      <SmallOutcome aim={aim} width={230} height={58} />
      <div>
        <p className={classes.state}>
          <b>{aim.state_name}</b>
          {workspace ? <Link to={chart}>{aim.kpi_name}</Link> : <span>{aim.kpi_name}</span>}
        </p>
        <p className={classes.says}>{aim.says}</p>
        {aim.together_with.length > 0 && (
          <p className="quiet">
            In the same time: {aim.together_with.join(', ')}. What they brought is theirs together.
          </p>
        )}
        {aim.proposes && workspace && (
          <Button
            component={Link}
            to={`${chart}?review=${aim.proposes}`}
            size="compact-xs"
            variant="light"
            mt={4}
          >
            Review the shift
          </Button>
        )}
      </div>
      <SmallCourse aim={aim} width={150} height={58} />
    </div>
  )
}

function History({ workspace, number }: { workspace: string; number: number }) {
  const found = useImprovement(workspace, number)
  if (found.error) return <Notice error={found.error} retry={found.refetch} />
  return (
    <ol className={classes.history} aria-label="Its history">
      {found.data?.acts.map((act) => (
        <li key={`${act.at} ${act.text}`}>
          {act.text}{' '}
          <span className="quiet">{[act.author || 'by the data', moment(act.at)].join(', ')}</span>
        </li>
      ))}
    </ol>
  )
}
