import { ActionIcon, Menu, Skeleton } from '@mantine/core'
import {
  IconCalendarEvent,
  IconDots,
  IconFileText,
  IconGitCompare,
  IconHelp,
  IconKeyboard,
  IconLayoutList,
  IconPlus,
  IconReport,
  IconTableImport,
  IconTools,
  IconUserCheck,
  IconZoomQuestion,
} from '@tabler/icons-react'
import { lazy, Suspense } from 'react'
import { Link, NavLink, useLocation } from 'react-router'
import { useDueCount } from '../fill-in/fillIn.ts'
import { useNewFindings } from '../findings/findings.ts'
import { useKpis } from '../shared/kpis.ts'
import { Logo } from '../shared/Logo.tsx'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { counted } from '../shared/writing.ts'
import type { RailProps } from './AccountItems.tsx'
import { helpFor } from './helpPages.ts'
import { KpiList } from './KpiList.tsx'
import classes from './Rail.module.css'
import { Workspaces } from './Workspaces.tsx'

// What the menu holds comes when it is opened.
const AccountItems = lazy(() => import('./AccountItems.tsx'))

/** More than this many findings are not counted out. */
const MOST = 99

export function Rail({ session, workspace, onJump, onKeys }: RailProps) {
  const kpis = useKpis(workspace)
  const may = useMay()
  const { pathname } = useLocation()
  const found = useNewFindings(workspace).data
  const due = useDueCount(workspace).data?.count ?? 0
  return (
    <div className={classes.rail}>
      <div className={classes.brand}>
        <Link to={`/${workspace}`} className={classes.logo}>
          <Logo />
          <span>Fluctus</span>
        </Link>
        <ActionIcon
          variant="subtle"
          c="#e9f1f1"
          ml="auto"
          component="a"
          href={helpFor(pathname)}
          target="_blank"
          aria-label="Help for this screen"
          title="Help for this screen"
        >
          <IconHelp size={18} />
        </ActionIcon>
        <Account {...{ session, workspace, onKeys }} />
      </div>
      <Workspaces {...{ session, workspace }} />
      <NavLink to={`/${workspace}`} end className={classes.overview}>
        <IconLayoutList size={16} aria-hidden /> Overview
      </NavLink>
      {may.add && (
        <NavLink to={`/${workspace}/fill-in`} className={classes.overview}>
          <IconKeyboard size={16} aria-hidden /> To fill in
          {due > 0 && (
            <span className={classes.badge} title={`${counted(due, 'KPI')} due`}>
              {due > MOST ? `${MOST}+` : due}
              <span className="unseen"> due</span>
            </span>
          )}
        </NavLink>
      )}
      {kpis.isPending && <Loading />}
      {kpis.error && <Notice error={kpis.error} retry={kpis.refetch} />}
      <KpiList rows={kpis.data ?? []} workspace={workspace} />
      <div className={classes.foot}>
        <NavLink to={`/${workspace}/findings`} className={classes.add}>
          <IconZoomQuestion size={16} aria-hidden /> Findings
          {found !== undefined && found.new > 0 && (
            <span
              className={classes.badge}
              title={`${found.new} new since you last looked, ${found.open} without a cause`}
            >
              {found.new > MOST ? `${MOST}+` : found.new}
              <span className="unseen"> new since you last looked</span>
            </span>
          )}
        </NavLink>
        <NavLink to={`/${workspace}/for-you`} className={classes.add}>
          <IconUserCheck size={16} aria-hidden /> For you
        </NavLink>
        <NavLink to={`/${workspace}/improvements`} className={classes.add}>
          <IconTools size={16} aria-hidden /> Improvements
        </NavLink>
        <NavLink to={`/${workspace}/events`} className={classes.add}>
          <IconCalendarEvent size={16} aria-hidden /> Events
        </NavLink>
        <NavLink to={`/${workspace}/compare`} className={classes.add}>
          <IconGitCompare size={16} aria-hidden /> Compare
        </NavLink>
        <NavLink to={`/${workspace}/pages`} className={classes.add}>
          <IconFileText size={16} aria-hidden /> Pages
        </NavLink>
        <NavLink to={`/${workspace}/reports`} className={classes.add}>
          <IconReport size={16} aria-hidden /> Reports
        </NavLink>
        {may.edit && (
          <Link to={`/${workspace}/new`} className={classes.add}>
            <IconPlus size={16} aria-hidden /> New KPI
          </Link>
        )}
        <NavLink to={`/${workspace}/data`} className={classes.add}>
          <IconTableImport size={16} aria-hidden /> Data
        </NavLink>
      </div>
      <button type="button" className={classes.jump} onClick={onJump}>
        <span>Jump to…</span>
        <span className={classes.key}>Ctrl K</span>
      </button>
    </div>
  )
}

function Account(props: Omit<RailProps, 'onJump'>) {
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <ActionIcon variant="subtle" c="#e9f1f1" aria-label="Account and appearance">
          <IconDots size={18} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <Suspense>
          <AccountItems {...props} />
        </Suspense>
      </Menu.Dropdown>
    </Menu>
  )
}

function Loading() {
  return (
    <div aria-busy="true" role="status" aria-label="Loading the KPIs">
      {[0, 1, 2, 3, 4].map((n) => (
        <Skeleton key={n} height={34} my={10} mx={12} width="auto" opacity={0.2} />
      ))}
    </div>
  )
}
