import { CloseButton, Group, SegmentedControl, Select, Stack } from '@mantine/core'
import { useState } from 'react'
import type { KpiPath } from '../api/keys.ts'
import { FindingPanel } from '../findings/FindingPanel.tsx'
import { useKpiFindings } from '../findings/findings.ts'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { DecideShift } from './DecideShift.tsx'

/** What is decided in a meeting, without leaving it: a cause, a person, a remark, a shift. */
export function WriteDown({ path, onClose }: { path: KpiPath; onClose: () => void }) {
  const findings = useKpiFindings(path, true)
  const may = useMay()
  const [chosen, setChosen] = useState<number | null>(null)
  const [about, setAbout] = useState<'finding' | 'shift'>('finding')
  const present = findings.data?.filter((row) => row.presence === 'present') ?? []
  const opened = chosen ?? present[0]?.id ?? null
  return (
    <Stack gap="xs">
      <Group justify="space-between" wrap="nowrap">
        <b>Write down</b>
        <CloseButton aria-label="Close" onClick={onClose} />
      </Group>
      {may.edit && (
        <SegmentedControl
          size="xs"
          aria-label="What it is about"
          data={[
            { value: 'finding', label: 'A finding' },
            { value: 'shift', label: 'A shift' },
          ]}
          value={about}
          onChange={(value) => setAbout(value as typeof about)}
        />
      )}
      {about === 'shift' ? (
        <DecideShift path={path} />
      ) : (
        <>
          {findings.error && <Notice error={findings.error} retry={findings.refetch} />}
          {findings.data && present.length === 0 && (
            <p className="quiet">This chart has no findings to say something of.</p>
          )}
          {present.length > 1 && (
            <Select
              size="xs"
              label="Finding"
              allowDeselect={false}
              comboboxProps={{ withinPortal: false }}
              data={present.map((row) => ({
                value: String(row.id),
                label: `${row.label}: ${row.title}`,
              }))}
              value={String(opened)}
              onChange={(value) => setChosen(Number(value))}
            />
          )}
          {opened !== null && (
            <FindingPanel
              key={opened}
              workspace={path.workspace}
              number={opened}
              explaining
              onClose={onClose}
            />
          )}
        </>
      )}
    </Stack>
  )
}
