import { Button, Loader, Modal, Title } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { lazy, Suspense, useEffect } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Reports.module.css'
import { about, ReportStatus } from './ReportsPage.tsx'
import { isUnderWay, pageOf, type Report, useReport, useReportActs } from './reports.ts'
import { ScheduledForm } from './ScheduledReports.tsx'

const NewLink = lazy(async () => ({ default: (await import('../links/NewLink.tsx')).NewLink }))

/** A report, looked at page by page before it is taken. */
export function ReportPage() {
  const { workspace = '', number = '' } = useParams()
  const report = useReport(workspace, Number(number))
  useEffect(() => {
    document.title = `${report.data?.title ?? 'Report'} · Fluctus`
  }, [report.data?.title])
  if (report.isPending) return <Loader role="status" aria-label="Loading" />
  if (report.error) return <Notice error={report.error} retry={report.refetch} />
  return <ReportDone workspace={workspace} report={report.data} />
}

function ReportDone({ workspace, report }: { workspace: string; report: Report }) {
  const acts = useReportActs(workspace)
  const navigate = useNavigate()
  const [deleting, ask] = useDisclosure()
  const [linking, link] = useDisclosure()
  const [scheduled, stand] = useDisclosure()
  const may = useMay()
  return (
    <>
      <span className="quiet">
        <Link to={`/${workspace}/reports`}>Reports</Link>
      </span>
      <div className={classes.head}>
        <Title order={1} size={25}>
          {report.title}
        </Title>
        <ReportStatus workspace={workspace} report={report} />
        {!isUnderWay(report) && (
          <Button
            size="compact-sm"
            variant="default"
            loading={acts.again.isPending}
            onClick={() =>
              acts.again.mutate(report.id, {
                onSuccess: ({ id }) => navigate(`/${workspace}/reports/${id}`),
              })
            }
          >
            Make it again with new data
          </Button>
        )}
        {may.edit && report.status === 'done' && (
          <Button size="compact-sm" variant="default" onClick={link.open}>
            Link…
          </Button>
        )}
        {may.edit && report.status === 'done' && (
          <Button size="compact-sm" variant="default" onClick={stand.open}>
            Make it by itself…
          </Button>
        )}
        <Button size="compact-sm" variant="default" onClick={ask.open}>
          Delete
        </Button>
      </div>
      <p className="quiet">{about(report)}</p>
      <Modal
        opened={scheduled}
        onClose={stand.close}
        title="Make it by itself"
        size="lg"
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        {scheduled && (
          <ScheduledForm
            workspace={workspace}
            report={report.id}
            onDone={() => navigate(`/${workspace}/reports`)}
          />
        )}
      </Modal>
      {report.problem?.issues.map((issue) => (
        <p key={issue.detail}>
          {issue.detail} {issue.remedy}
        </p>
      ))}
      {report.left_out.map((line) => (
        <p key={line}>{line}</p>
      ))}
      {report.shows.length > 0 && (
        <details>
          <summary>Shows {report.shows.length === 1 ? 'one KPI' : 'these KPIs'}</summary>
          <ul>
            {report.shows.map((kpi) => (
              <li key={`${kpi.slug} ${kpi.name}`}>
                <Link to={`/${workspace}/charts/${kpi.slug}`}>{kpi.name}</Link>, revision{' '}
                {kpi.revision}
              </li>
            ))}
          </ul>
        </details>
      )}
      {report.format === 'pdf' && report.status === 'done' && (
        <div className={classes.pages}>
          {Array.from({ length: report.pages }, (_, n) => n + 1).map((page) => (
            <figure key={page} className={classes.page}>
              <img
                src={pageOf(workspace, report.id, page)}
                alt={`Page ${page} of ${report.title}; its text is in the PDF`}
                loading="lazy"
                width={892}
                height={report.paper === 'A4' ? 1263 : 1188}
              />
              <figcaption>
                {page} of {report.pages}
              </figcaption>
            </figure>
          ))}
        </div>
      )}
      {linking && (
        <Suspense>
          <NewLink
            workspace={workspace}
            named={{ kind: 'report', report: report.id, title: report.title }}
            onClose={link.close}
          />
        </Suspense>
      )}
      <Modal
        opened={deleting}
        onClose={ask.close}
        title="Delete the report"
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        <p>{report.title} goes, and links to it end. The charts that it shows stay.</p>
        <Button
          color="signal"
          loading={acts.remove.isPending}
          onClick={() =>
            acts.remove.mutate(report.id, { onSuccess: () => navigate(`/${workspace}/reports`) })
          }
        >
          Delete it
        </Button>
      </Modal>
    </>
  )
}
