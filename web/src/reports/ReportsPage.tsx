import { Button, Loader, Progress, Title } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { useEffect, useState } from 'react'
import { Link, useParams } from 'react-router'
import { Notice } from '../shared/Notice.tsx'
import { Stretches } from '../shared/Stretches.tsx'
import { counted, moment } from '../shared/writing.ts'
import { NewReport } from './NewReport.tsx'
import classes from './Reports.module.css'
import { FORMATS, fileOf, isUnderWay, type Report, useReportActs, useReports } from './reports.ts'
import { ScheduledReports } from './ScheduledReports.tsx'

/** What was made to be handed over. */
export function ReportsPage() {
  const { workspace = '' } = useParams()
  const [start, setStart] = useState(0)
  const [asking, ask] = useDisclosure()
  const reports = useReports(workspace, start)
  useEffect(() => {
    document.title = 'Reports · Fluctus'
  }, [])
  return (
    <>
      <div className={classes.head}>
        <Title order={1} size={25}>
          Reports
        </Title>
        <Button onClick={ask.open}>New report</Button>
      </div>
      <p className="quiet">
        Reports, slides, workbooks and data packages, kept with who made them, when, and which
        revisions they show.
      </p>
      <ScheduledReports workspace={workspace} />
      {reports.isPending && <Loader role="status" aria-label="Loading" />}
      {reports.error && <Notice error={reports.error} retry={reports.refetch} />}
      {reports.data?.count === 0 && (
        <p>None yet. “Hand over” at a chart or a page begins with what is shown there.</p>
      )}
      <ul className={classes.list} aria-label="Reports">
        {reports.data?.reports.map((report) => (
          <li key={report.id} className="card">
            <Link className={classes.title} to={`/${workspace}/reports/${report.id}`}>
              {report.title}
            </Link>
            <span className="quiet">{about(report)}</span>
            <ReportStatus workspace={workspace} report={report} />
          </li>
        ))}
      </ul>
      <Stretches
        {...{ start }}
        count={reports.data?.count ?? 0}
        shown={reports.data?.reports.length ?? 0}
        onStart={setStart}
      />
      {asking && <NewReport workspace={workspace} start={{ scope: 'all' }} onClose={ask.close} />}
    </>
  )
}

/** `Report, 5 pages, 3 charts · Isla Corrie, 27 Nov 2026, 10:05`. */
export function about(report: Report): string {
  const { name } = FORMATS[report.format]
  const size = report.pages > 0 ? `, ${counted(report.pages, sheet(report))}` : ''
  const shows = report.shows.length > 0 ? `, ${counted(report.shows.length, 'KPI')}` : ''
  return `${name}${size}${shows} · ${report.person || 'nobody'}, ${moment(report.at)}`
}

const sheet = ({ format }: Report) =>
  format === 'slides' ? 'slide' : format === 'pdf' ? 'page' : 'sheet'

/** How far a report is, with what can be done about it; what it came to, once it is made. */
export function ReportStatus({ workspace, report }: { workspace: string; report: Report }) {
  const acts = useReportActs(workspace)
  if (isUnderWay(report))
    return (
      <span className={classes.acts} role="status">
        <Progress value={report.progress * 100} w={160} my="auto" aria-label="How far it is" />
        <span className="quiet">{report.stage || 'Waiting'}</span>
        <Button size="compact-xs" variant="default" onClick={() => acts.cancel.mutate(report.id)}>
          Cancel
        </Button>
      </span>
    )
  return (
    <span className={classes.acts}>
      {report.status === 'failed' && <span>Not made: {report.problem?.title}</span>}
      {report.status === 'cancelled' && <span className="quiet">Cancelled</span>}
      {report.status === 'done' && (
        <Button size="compact-sm" component="a" href={fileOf(workspace, report.id)} download>
          Take the {FORMATS[report.format].file}
        </Button>
      )}
    </span>
  )
}
