import { Anchor, Text } from '@mantine/core'
import { Link } from 'react-router'
import type { KpiRow } from '../shared/kpis.ts'
import classes from './Compare.module.css'
import { useSuggestions } from './compare.ts'

/** What is worth comparing, before anybody has chosen: parts that differ, pairs that go together. */
export function Suggestions({ workspace, kpis }: { workspace: string; kpis: KpiRow[] }) {
  const comparable = kpis.length > 1 || kpis.some((one) => one.parts > 1)
  const { data, error } = useSuggestions(workspace, comparable)
  if (error || !comparable) return null
  if (!data) return <p className={classes.suggested}>Looking for what is worth a look…</p>
  const of = (way: string, kpis: string[], more = '') => {
    const asked = kpis.map((kpi) => `kpi=${encodeURIComponent(kpi)}`).join('&')
    return `/${workspace}/compare/${way}?${asked}${more}`
  }
  const rows = [
    ...data.parts.map((one) => ({ ...one, what: 'By its parts', to: of('parts', one.kpis) })),
    ...data.pairs.map((one) => ({
      ...one,
      what: 'Against each other',
      to: `/${workspace}/compare/pair?x=${encodeURIComponent(one.x)}&y=${encodeURIComponent(one.y)}&lag=${one.lag}`,
    })),
    ...data.goals.map((one) => ({ ...one, what: 'Against a goal', to: of('goal', one.kpis) })),
  ]
  return (
    <details className={classes.suggested}>
      <summary>
        {rows.length ? `Worth a look: ${rows.length}` : 'Nothing stands out by itself'}
      </summary>
      <ul>
        {rows.map((row) => (
          <li key={row.to}>
            <Anchor component={Link} to={row.to} size="sm">
              {row.what}: {row.name}
            </Anchor>
            <Text size="sm">{row.says}</Text>
          </li>
        ))}
      </ul>
      <Text size="xs" c="dimmed">
        {data.how}
      </Text>
    </details>
  )
}
