import { Button, Group, Loader, Title } from '@mantine/core'
import { useEffect, useState } from 'react'
import { useParams } from 'react-router'
import { AddToPage } from '../pages/AddToPage.tsx'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { Pills } from '../shared/Pills.tsx'
import { counted, today } from '../shared/writing.ts'
import { useImprovements } from './begun.ts'
import { ImprovementForm } from './ImprovementForm.tsx'
import { ImprovementRow } from './ImprovementRow.tsx'
import classes from './Improvements.module.css'
import { type Draft, draftOf, newDraft, useImprovementActs } from './improvements.ts'

/** What was done and what came of it: those that ask for something first. */
export function ImprovementsPage() {
  const { workspace = '' } = useParams()
  const found = useImprovements(workspace)
  const { remove } = useImprovementActs(workspace)
  const may = useMay()
  const [draft, setDraft] = useState<Draft | null>(null)
  const [state, setState] = useState<string | null>(null)
  useEffect(() => {
    document.title = 'Improvements · Fluctus'
  }, [])
  const begin = () => setDraft(newDraft(today(), null))
  const all = found.data?.improvements ?? []
  const states = new Map<string, number>()
  for (const { aims } of all)
    for (const aim of aims) states.set(aim.state_name, (states.get(aim.state_name) ?? 0) + 1)
  const shown =
    state === null ? all : all.filter(({ aims }) => aims.some((aim) => aim.state_name === state))
  return (
    <>
      <Group justify="space-between" mb={4}>
        <Title order={1} size={25}>
          Improvements
        </Title>
        <Group gap="xs">
          {all.length > 0 && (
            <AddToPage workspace={workspace} panels={[{ kind: 'improvements', kpis: [] }]} />
          )}
          {may.add && <Button onClick={begin}>Write one down</Button>}
        </Group>
      </Group>
      <p className="quiet">
        What was done to move a KPI, and what came of it: computed from the values since, against
        the limits before.
      </p>
      {found.isPending && <Loader role="status" aria-label="Loading" />}
      {found.error && <Notice error={found.error} retry={found.refetch} />}
      {found.data && found.data.totals.length > 0 && (
        <p className={classes.totals}>
          {found.data.totals.map(({ unit, says, count }) => (
            <span key={unit}>
              Worth <b>{says}</b> so far
              <span className="quiet">, from {counted(count, 'improvement')}</span>
            </span>
          ))}
        </p>
      )}
      {states.size > 1 && (
        <Pills
          legend="State"
          options={[
            { value: '', label: 'All', count: all.length },
            ...[...states].map(([name, count]) => ({ value: name, label: name, count })),
          ]}
          pressed={(value) => value === (state ?? '')}
          onPress={(value) => setState(value || null)}
        />
      )}
      {found.data && all.length === 0 && (
        <p>
          Nothing is written down yet. An improvement has a day it began and a KPI it is to move;
          from then on its state is computed with every new value.
        </p>
      )}
      {shown.map((improvement) => (
        <ImprovementRow
          key={improvement.id}
          {...{ workspace, improvement, may }}
          onChange={() => setDraft(draftOf(improvement))}
          onRemove={() => remove.mutate(improvement)}
        />
      ))}
      {draft && (
        <ImprovementForm workspace={workspace} draft={draft} onClose={() => setDraft(null)} />
      )}
    </>
  )
}
