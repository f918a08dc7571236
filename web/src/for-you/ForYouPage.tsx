import { Loader, Title } from '@mantine/core'
import { useEffect } from 'react'
import { Link, useParams } from 'react-router'
import { StatePill } from '../findings/StatePill.tsx'
import { about } from '../reports/ReportsPage.tsx'
import { Notice } from '../shared/Notice.tsx'
import { days, today } from '../shared/writing.ts'
import classes from './ForYou.module.css'
import { useForYou } from './forYou.ts'

const KINDS: Record<string, string> = { remark: 'Remark', event: 'Event', shift: 'Shift' }

/** What waits for the person who is signed in: to look into, said to them, made by others. */
export function ForYouPage() {
  const { workspace = '' } = useParams()
  const waits = useForYou(workspace)
  useEffect(() => {
    document.title = 'For you · Fluctus'
  }, [])
  return (
    <>
      <Title order={1} size={25} mb={4}>
        For you
      </Title>
      <p className="quiet">
        Findings you are to look into, words in which others name you with an @, and what others
        have made lately. All findings are in the <Link to={`/${workspace}/findings`}>log</Link>.
        What you hear of, and how, is under <Link to={`/${workspace}/messages`}>Messages</Link>.
      </p>
      {waits.isPending && <Loader role="status" aria-label="Loading" />}
      {waits.error && <Notice error={waits.error} retry={waits.refetch} />}
      {waits.data && (
        <div className={classes.columns}>
          <section aria-labelledby="assigned">
            {waits.data.faded.length > 0 && (
              <>
                <h2>Your improvements that did not last</h2>
                <ul className={classes.list}>
                  {waits.data.faded.map((one) => (
                    <li key={`${one.improvement} ${one.kpi_name}`} className="card">
                      <Link to={`/${workspace}/improvements`}>
                        {one.name}: {one.kpi_name}
                      </Link>
                      <span className="quiet">{days(one.since, one.since)}</span>
                      <p>{one.says}</p>
                    </li>
                  ))}
                </ul>
              </>
            )}
            <h2 id="assigned">To look into</h2>
            {waits.data.assigned.length === 0 && <p className="quiet">Nothing waits for you.</p>}
            <ul className={classes.list}>
              {waits.data.assigned.map((finding) => (
                <li key={finding.id} className="card">
                  <Link to={`/${workspace}/charts/${finding.kpi}?finding=${finding.id}`}>
                    {finding.kpi_name}: {finding.title}
                  </Link>
                  <span className="quiet">{finding.label}</span>
                  <StatePill finding={finding} />
                  {finding.due && (
                    <span data-overdue={finding.due < today()} className={classes.due}>
                      {finding.due < today() ? 'was due ' : 'due '}
                      {days(finding.due, finding.due)}
                    </span>
                  )}
                  {finding.action && <p>{finding.action}</p>}
                </li>
              ))}
            </ul>
          </section>
          <section aria-labelledby="named">
            <h2 id="named">Named</h2>
            {waits.data.named.length === 0 && <p className="quiet">Nobody has named you.</p>}
            <ul className={classes.list}>
              {waits.data.named.map((naming) => (
                <li key={`${naming.kind} ${naming.where} ${naming.text}`} className="card">
                  <p>{naming.text}</p>
                  <span className="quiet">
                    {[KINDS[naming.kind], naming.by, days(naming.day, naming.day)]
                      .filter(Boolean)
                      .join(' · ')}
                  </span>
                  <Link
                    to={
                      naming.kpi
                        ? `/${workspace}/charts/${naming.kpi}${naming.finding ? `?finding=${naming.finding}` : ''}`
                        : `/${workspace}/events`
                    }
                  >
                    {naming.where}
                  </Link>
                </li>
              ))}
            </ul>
            <h2>Made by others</h2>
            {waits.data.shared.length === 0 && (
              <p className="quiet">Nothing in the last 30 days.</p>
            )}
            <ul className={classes.list}>
              {waits.data.shared.map((report) => (
                <li key={report.id} className="card">
                  <Link to={`/${workspace}/reports/${report.id}`}>{report.title}</Link>
                  <span className="quiet">{about(report)}</span>
                </li>
              ))}
            </ul>
          </section>
        </div>
      )}
    </>
  )
}
