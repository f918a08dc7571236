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
import { NameSuggestions } from '../../for-you/NameSuggestions.tsx'
import { newDraft } from '../../improvements/improvements.ts'
import { MakeImprovement } from '../../improvements/MakeImprovement.tsx'
import { DayInput } from '../../shared/day/DayInput.tsx'
import { differences } from '../../shared/differences.ts'
import { KINDS } from '../../shared/eventKinds.ts'
import { useKpis } from '../../shared/kpis.ts'
import { useMay } from '../../shared/may.ts'
import type { EventDraft } from '../session/drafts/eventDraft.ts'

interface Props {
  workspace: string
  draft: EventDraft
  saving: boolean
  /** Saves it; `changes` is what differs from how it was when the card opened. */
  onSave: (draft: EventDraft, changes: Partial<EventDraft>) => void
  onRemove: () => void
  /** Compares the KPI in and out of a state; absent where no chart is beside it. */
  onCompare?: () => void
}

/** One event: what happened, on which days, and which KPIs it is told with. */
export function EventCard({ workspace, draft, saving, onSave, onRemove, onCompare }: Props) {
  const [entry, setEntry] = useState(draft)
  const kpis = useKpis(workspace)
  const may = useMay()
  const backwards = entry.last < entry.first
  const nowhere = !entry.everywhere && entry.kpis.length === 0
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (entry.title.trim() && !backwards && !nowhere) onSave(entry, differences(draft, entry))
      }}
    >
      <Stack gap="xs">
        <TextInput
          size="xs"
          data-autofocus
          label="What happened"
          maxLength={120}
          value={entry.title}
          onChange={(event) => setEntry({ ...entry, title: event.currentTarget.value })}
        />
        <SegmentedControl
          size="xs"
          aria-label="Kind"
          data={KINDS}
          value={entry.kind}
          onChange={(kind) => setEntry({ ...entry, kind: kind as EventDraft['kind'] })}
        />
        <Group grow gap="xs">
          <DayInput
            size="xs"
            label="First day"
            value={entry.first}
            onChange={(first) =>
              first && setEntry({ ...entry, first, last: entry.last < first ? first : entry.last })
            }
          />
          <DayInput
            size="xs"
            label="Last day"
            value={entry.last}
            error={backwards ? 'Before the first day.' : null}
            onChange={(last) => last && setEntry({ ...entry, last })}
          />
        </Group>
        <Textarea
          size="xs"
          label="More about it"
          maxLength={2000}
          autosize
          minRows={1}
          maxRows={4}
          value={entry.text}
          onChange={(event) => setEntry({ ...entry, text: event.currentTarget.value })}
        />
        <NameSuggestions text={entry.text} onChange={(text) => setEntry({ ...entry, text })} />
        <SegmentedControl
          size="xs"
          aria-label="Told with"
          data={[
            { value: 'some', label: 'Some KPIs' },
            { value: 'all', label: 'All KPIs' },
          ]}
          value={entry.everywhere ? 'all' : 'some'}
          onChange={(told) => setEntry({ ...entry, everywhere: told === 'all' })}
        />
        {!entry.everywhere && (
          <MultiSelect
            size="xs"
            label="Told with"
            searchable
            maxDropdownHeight={150}
            // Upward: it stays open for several, and below is what saves them.
            comboboxProps={{ withinPortal: false, position: 'top' }}
            data={(kpis.data ?? []).map((kpi) => ({ value: kpi.slug, label: kpi.name }))}
            value={entry.kpis}
            error={nowhere ? 'Choose at least one.' : null}
            onChange={(chosen) => setEntry({ ...entry, kpis: chosen })}
          />
        )}
        {may.add ? null : <p className="quiet">Contributors and editors can change it.</p>}
        <Group gap="xs">
          <Button
            size="xs"
            type="submit"
            display={may.add ? undefined : 'none'}
            loading={saving}
            disabled={!entry.title.trim() || backwards || nowhere}
          >
            {entry.id === null ? 'Add event' : 'Save event'}
          </Button>
          {entry.id !== null && may.add && (
            <Button size="xs" variant="default" onClick={onRemove}>
              Remove
            </Button>
          )}
          {entry.id !== null && (
            <MakeImprovement
              workspace={workspace}
              draft={newDraft(
                entry.first,
                entry.everywhere || !entry.kpis[0] ? null : { slug: entry.kpis[0] },
                { event: entry.id, name: entry.title, text: entry.text },
              )}
            />
          )}
          {entry.id !== null && draft.kind === 'state' && onCompare && (
            <Button size="xs" variant="light" onClick={onCompare}>
              In and out of it
            </Button>
          )}
        </Group>
      </Stack>
    </form>
  )
}
