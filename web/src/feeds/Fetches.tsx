import { Text, Title } from '@mantine/core'
import { useImportActs } from '../intake/imports.ts'
import { useMay } from '../shared/may.ts'
import { notifyProblem } from '../shared/notifications.tsx'
import { kilobytes } from '../shared/writing.ts'
import classes from './Feeds.module.css'
import type { FeedDetails, FetchRow } from './feeds.ts'
import { momentIn } from './Plan.tsx'

/** The last fetches of a feed: when, how long, how much, and what came of each. */
export function Fetches({ details, workspace }: { details: FeedDetails; workspace: string }) {
  const { fetches } = details
  return (
    <section aria-labelledby="fetches">
      <Title order={2} size={18} mt="lg" id="fetches">
        Last fetches
      </Title>
      {fetches.length === 0 ? (
        <Text c="dimmed">It has not fetched yet.</Text>
      ) : (
        <table className={classes.fetches}>
          <thead>
            <tr>
              <th scope="col">When</th>
              <th scope="col">What came of it</th>
              <th scope="col">Took</th>
              <th scope="col">Size</th>
              <th scope="col">Rows</th>
              <th scope="col">
                <span className="unseen">Undo</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {fetches.map((fetch) => (
              <Row key={fetch.id} {...{ fetch, workspace }} zone={details.time_zone} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}

interface RowProps {
  fetch: FetchRow
  workspace: string
  zone: string
}

function Row({ fetch, workspace, zone }: RowProps) {
  const acts = useImportActs(workspace)
  const may = useMay()
  const { brought } = fetch
  const undoable = brought !== null && fetch.outcome === 'brought' && fetch.touched > 0
  return (
    <tr>
      <td>
        {momentIn(fetch.began, zone)}
        {fetch.by_hand && <span className="quiet"> by hand</span>}
      </td>
      <td>
        {fetch.says}
        {fetch.stage && <span className="quiet"> {fetch.stage}</span>}
        {fetch.remarks.map((remark) => (
          <div key={remark} className="quiet">
            {remark}.
          </div>
        ))}
        {fetch.issues.map((issue) => (
          <div key={issue.detail} className="quiet">
            {issue.detail} {issue.remedy}
          </div>
        ))}
      </td>
      <td>{fetch.seconds === null ? '' : `${fetch.seconds.toLocaleString('en-US')} s`}</td>
      <td>{fetch.size > 0 ? kilobytes(fetch.size) : ''}</td>
      <td>{fetch.rows > 0 ? fetch.rows.toLocaleString('en-US') : ''}</td>
      <td>
        {may.add && undoable && (
          <button
            type="button"
            className={classes.link}
            disabled={acts.undo.isPending || acts.undo.isSuccess}
            onClick={() =>
              acts.undo.mutate({ number: brought, later: 'keep' }, { onError: notifyProblem })
            }
          >
            {acts.undo.isSuccess ? 'Undone' : 'Undo'}
          </button>
        )}
      </td>
    </tr>
  )
}
