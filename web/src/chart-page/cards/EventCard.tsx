import {
  Button,
  Group,
  MultiSelect,
  SegmentedControl,
  Stack,
  Textarea,
  TextInput,
} from '@mantine/core'
import { useState } from 'react'
import { DayInput } from '../../shared/day/DayInput.tsx'
import { KINDS } from '../../shared/eventKinds.ts'
import { useKpis } from '../../shared/kpis.ts'
import type { EventDraft } from '../session/eventDraft.ts'

interface Props {
  workspace: string
  draft: EventDraft
  saving: boolean
  onSave: (draft: EventDraft) => void
  onRemove: () => void
}

/** One event: what happened, on which days, and which KPIs it is told with. */
export function EventCard({ workspace, draft, saving, onSave, onRemove }: Props) {
  const [own, setOwn] = useState(draft)
  const kpis = useKpis(workspace)
  const backwards = own.last < own.first
  const nowhere = !own.everywhere && own.kpis.length === 0
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (own.title.trim() && !backwards && !nowhere) onSave(own)
      }}
    >
      <Stack gap="xs">
        <TextInput
          size="xs"
          data-autofocus
          label="What happened"
          maxLength={120}
          value={own.title}
          onChange={(event) => setOwn({ ...own, title: event.currentTarget.value })}
        />
        <SegmentedControl
          size="xs"
          aria-label="Kind"
          data={KINDS}
          value={own.kind}
          onChange={(kind) => setOwn({ ...own, kind: kind as EventDraft['kind'] })}
        />
        <Group grow gap="xs">
          <DayInput
            size="xs"
            label="First day"
            value={own.first}
            onChange={(first) =>
              first && setOwn({ ...own, first, last: own.last < first ? first : own.last })
            }
          />
          <DayInput
            size="xs"
            label="Last day"
            value={own.last}
            error={backwards ? 'Before the first day.' : null}
            onChange={(last) => last && setOwn({ ...own, last })}
          />
        </Group>
        <Textarea
          size="xs"
          label="More about it"
          maxLength={2000}
          autosize
          minRows={1}
          maxRows={4}
          value={own.text}
          onChange={(event) => setOwn({ ...own, text: event.currentTarget.value })}
        />
        <SegmentedControl
          size="xs"
          aria-label="Told with"
          data={[
            { value: 'some', label: 'Some KPIs' },
            { value: 'all', label: 'All KPIs' },
          ]}
          value={own.everywhere ? 'all' : 'some'}
          onChange={(told) => setOwn({ ...own, everywhere: told === 'all' })}
        />
        {!own.everywhere && (
          <MultiSelect
            size="xs"
            label="Told with"
            searchable
            maxDropdownHeight={150}
            // Upward: it stays open for several, and below is what saves them.
            comboboxProps={{ withinPortal: false, position: 'top' }}
            data={(kpis.data ?? []).map((kpi) => ({ value: kpi.slug, label: kpi.name }))}
            value={own.kpis}
            error={nowhere ? 'Choose at least one.' : null}
            onChange={(chosen) => setOwn({ ...own, kpis: chosen })}
          />
        )}
        <Group gap="xs">
          <Button
            size="xs"
            type="submit"
            loading={saving}
            disabled={!own.title.trim() || backwards || nowhere}
          >
            {own.id === null ? 'Add event' : 'Save event'}
          </Button>
          {own.id !== null && (
            <Button size="xs" variant="default" onClick={onRemove}>
              Remove
            </Button>
          )}
        </Group>
      </Stack>
    </form>
  )
}
