import { ActionIcon, Button, Menu } from '@mantine/core'
import { IconArrowBackUp, IconArrowForwardUp, IconDots } from '@tabler/icons-react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { Chart } from '../../chart/model/types.ts'
import type { May } from '../../shared/may.ts'
import classes from '../ChartPage.module.css'

export interface StepAct {
  /** What it would do; null where there is nothing. */
  does: string | null
  act: () => void
}

interface Props {
  chart: Chart
  base: string
  undo: StepAct
  redo: StepAct
  /** Opens one of the cards in which the KPI is set up. */
  onSetUp: (card: 'rules' | 'axis' | 'calendar') => void
  /** Null for who may not. */
  onDelete: (() => void) | null
  /** The name, and what stands beside it. */
  name: ReactNode
  beside: ReactNode
  /** Begins a trial; null while one goes on. */
  onTry: (() => void) | null
  onAddToPage: () => void
  /** Makes a KPI from this and another. */
  onMake: () => void
  exporting: ReactNode
  /** Whether the person keeps it at hand. */
  atHand: ReactNode
  may: May
}

/** The name of a chart, and what can be done with it as a whole. */
export function PageHead({
  chart,
  base,
  undo,
  redo,
  onSetUp,
  onDelete,
  name,
  beside,
  onTry,
  onAddToPage,
  onMake,
  exporting,
  atHand,
  may,
}: Props) {
  const workspace = base.replace(/\/charts\/.*$/, '')
  const compare = `${workspace}/compare`
  return (
    <header className={classes.head}>
      <h1>{name}</h1>
      {atHand}
      {beside}
      <div className={classes.actions}>
        <Step label="Undo" {...undo} icon={<IconArrowBackUp size={18} />} />
        <Step label="Redo" {...redo} icon={<IconArrowForwardUp size={18} />} />
        <Menu position="bottom-end">
          <Menu.Target>
            <ActionIcon variant="default" size={36} aria-label="More">
              <IconDots size={18} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={onTry ?? undefined} disabled={onTry === null}>
              What if…
            </Menu.Item>
            {may.edit && <Menu.Item onClick={onAddToPage}>Add to a page…</Menu.Item>}
            {may.edit && <Menu.Item onClick={onMake}>Make from this and another…</Menu.Item>}
            {chart.kpi.breakdowns.length > 0 && (
              <Menu.Item component={Link} to={`${compare}/parts?kpi=${chart.kpi.slug}`}>
                Compare its parts
              </Menu.Item>
            )}
            <Menu.Item component={Link} to={`${compare}/pair?x=${chart.kpi.slug}`}>
              Against another KPI
            </Menu.Item>
            <Menu.Item component={Link} to={`${workspace}/messages?kpi=${chart.kpi.slug}`}>
              What you hear of it
            </Menu.Item>
            <Menu.Item component={Link} to={`${base}/history`}>
              History
            </Menu.Item>
            <Menu.Label>How it is set up</Menu.Label>
            <Menu.Item onClick={() => onSetUp('rules')}>Rules and findings…</Menu.Item>
            <Menu.Item onClick={() => onSetUp('axis')}>How values are drawn…</Menu.Item>
            <Menu.Item onClick={() => onSetUp('calendar')}>Calendar…</Menu.Item>
            {onDelete && <Menu.Item onClick={onDelete}>Delete it…</Menu.Item>}
          </Menu.Dropdown>
        </Menu>
        <Button component={Link} variant="default" to={`${base}/values`}>
          Values
        </Button>
        {exporting}
        {!chart.kpi.derivation?.follows && may.add && (
          <Button component={Link} to={`${base}/add`}>
            Add data
          </Button>
        )}
      </div>
    </header>
  )
}

function Step({ label, does, act, icon }: StepAct & { label: string; icon: ReactNode }) {
  return (
    <ActionIcon
      variant="default"
      size={36}
      title={does ? `${label}: ${does}` : `Nothing to ${label.toLowerCase()}`}
      aria-label={does ? `${label}: ${does}` : label}
      disabled={!does}
      onClick={act}
    >
      {icon}
    </ActionIcon>
  )
}
