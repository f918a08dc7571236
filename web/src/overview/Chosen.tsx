import { Button } from '@mantine/core'
import { Link } from 'react-router'
import { AddToPage } from '../pages/AddToPage.tsx'
import { counted } from '../shared/writing.ts'
import classes from './Overview.module.css'

interface Props {
  workspace: string
  chosen: readonly string[]
  onNone: () => void
}

/** What can be done with several KPIs that are chosen. */
export function Chosen({ workspace, chosen, onNone }: Props) {
  const query = chosen.map((slug) => `kpi=${encodeURIComponent(slug)}`).join('&')
  return (
    <section className={`card ${classes.bar}`} aria-label="Chosen KPIs">
      <b>{counted(chosen.length, 'KPI')} chosen</b>
      <Button component={Link} size="xs" to={`/${workspace}/compare/goal?${query}`}>
        Compare
      </Button>
      {chosen.length === 2 && (
        <Button
          component={Link}
          size="xs"
          variant="default"
          to={`/${workspace}/compare/pair?x=${chosen[0]}&y=${chosen[1]}`}
        >
          Against each other
        </Button>
      )}
      <AddToPage
        workspace={workspace}
        size="xs"
        panels={chosen.map((slug) => ({ kind: 'chart', kpis: [slug] }))}
      />
      <Button size="xs" variant="default" onClick={onNone}>
        Choose none
      </Button>
    </section>
  )
}
