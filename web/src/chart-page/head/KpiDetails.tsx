import { Button, Divider, Group, Stack } from '@mantine/core'
import { useState } from 'react'
import { differences } from '../../shared/differences.ts'
import { Notice } from '../../shared/Notice.tsx'
import type { KpiPath, Settings } from '../data/chart.ts'
import { Calendar } from './details/Calendar.tsx'
import { DeleteKpi } from './details/DeleteKpi.tsx'
import { type Details, detailsOf, type Kpi } from './details/fields.ts'
import { NameAndScale } from './details/NameAndScale.tsx'
import { Rules } from './details/Rules.tsx'

interface Props {
  path: KpiPath
  kpi: Kpi
  /** Sigma of the last segment. */
  sigma: number | null
  saving: boolean
  error: Error | null
  onSave: (changes: Settings) => void
  onDelete: (name: string) => void
  mayDelete: boolean
  deleting: boolean
  deleteError: Error | null
}

/** What a KPI is called, how its values are read, which rules judge it. */
export function KpiDetails(props: Props) {
  const { path, kpi, sigma, saving, error, onSave, mayDelete } = props
  const [opened] = useState(() => detailsOf(kpi))
  const [details, setDetails] = useState(opened)
  const set = (changes: Partial<Details>) => setDetails({ ...details, ...changes })

  return (
    <Stack>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          onSave(differences(opened, details))
        }}
      >
        <Stack>
          {error && <Notice error={error} />}
          <NameAndScale {...{ details, set }} />
          <Calendar {...{ details, set }} />
          <Rules {...{ path, kpi, sigma, details, set }} />
          <Group>
            <Button type="submit" loading={saving}>
              Save details
            </Button>
          </Group>
        </Stack>
      </form>
      {mayDelete && (
        <>
          <Divider />
          <DeleteKpi
            name={kpi.name}
            deleting={props.deleting}
            deleteError={props.deleteError}
            onDelete={props.onDelete}
          />
        </>
      )}
    </Stack>
  )
}
