import {
  Button,
  Group,
  Modal,
  NumberInput,
  SegmentedControl,
  Select,
  Stack,
  Textarea,
  TextInput,
} from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useState } from 'react'
import { calendarIsOpen, DayInput } from '../shared/day/DayInput.tsx'
import { useKpis } from '../shared/kpis.ts'
import { useMembers } from '../shared/members.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Improvements.module.css'
import {
  type AimDraft,
  type Draft,
  type Improvement,
  NEW_AIM,
  useExpected,
  useImprovementActs,
} from './improvements.ts'

interface Props {
  workspace: string
  draft: Draft
  onClose: () => void
  onSaved?: (improvement: Improvement) => void
}

/** Writes an improvement down: what was done, when, and which KPIs it is to move. */
export function ImprovementForm({ workspace, draft, onClose, onSaved }: Props) {
  const [own, setOwn] = useState(draft)
  const members = useMembers(workspace)
  const { save } = useImprovementActs(workspace)
  const set = (changes: Partial<Draft>) => setOwn({ ...own, ...changes })
  const setAim = (at: number, changes: Partial<AimDraft>) =>
    set({ aims: own.aims.map((aim, n) => (n === at ? { ...aim, ...changes } : aim)) })
  const complete =
    own.name.trim() !== '' &&
    own.began !== '' &&
    own.aims.length > 0 &&
    own.aims.every(({ kpi }) => kpi !== '')
  return (
    <Modal
      opened
      size="lg"
      onClose={() => !calendarIsOpen() && onClose()}
      title={draft.id === null ? 'Write an improvement down' : 'Improvement'}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          // It may stand in the form of what it is made from.
          event.stopPropagation()
          if (complete)
            save.mutate(own, {
              onSuccess: (saved) => {
                onSaved?.(saved)
                onClose()
              },
            })
        }}
      >
        <Stack gap="sm">
          <TextInput
            label="What was done"
            data-autofocus
            maxLength={120}
            value={own.name}
            onChange={(event) => set({ name: event.currentTarget.value })}
          />
          <Group grow gap="sm">
            <DayInput label="Since" value={own.began} onChange={(began) => set({ began })} />
            <Select
              label="Owner"
              placeholder="nobody"
              clearable
              data={(members.data ?? []).map(({ username, name }) => ({
                value: username,
                label: name,
              }))}
              value={own.owner}
              onChange={(owner) => set({ owner })}
            />
          </Group>
          <Textarea
            label="More about it"
            maxLength={2000}
            autosize
            minRows={1}
            maxRows={5}
            value={own.text}
            onChange={(event) => set({ text: event.currentTarget.value })}
          />
          {own.aims.map((aim, n) => (
            <AimFields
              // biome-ignore lint/suspicious/noArrayIndexKey: they have no other name until saved
              key={n}
              {...{ workspace, aim }}
              began={own.began}
              taken={own.aims.map(({ kpi }) => kpi)}
              onChange={(changes) => setAim(n, changes)}
              onRemove={
                own.aims.length > 1
                  ? () => set({ aims: own.aims.filter((_, at) => at !== n) })
                  : null
              }
            />
          ))}
          <Group>
            <Button
              size="compact-sm"
              variant="subtle"
              onClick={() => set({ aims: [...own.aims, { ...NEW_AIM, kpi: '' }] })}
            >
              {own.aims.length === 0 ? 'Choose what it is to move' : 'Another KPI'}
            </Button>
          </Group>
          {save.error && <Notice error={save.error} />}
          <Group>
            <Button type="submit" disabled={!complete} loading={save.isPending}>
              {draft.id === null ? 'Write it down' : 'Save'}
            </Button>
            <span className="quiet">Its state is computed from the data, never typed.</span>
          </Group>
        </Stack>
      </form>
    </Modal>
  )
}

function AimFields({
  workspace,
  aim,
  began,
  taken,
  onChange,
  onRemove,
}: {
  workspace: string
  aim: AimDraft
  began: string
  taken: string[]
  onChange: (changes: Partial<AimDraft>) => void
  onRemove: (() => void) | null
}) {
  const kpis = useKpis(workspace)
  const [settled] = useDebouncedValue(aim, 300)
  const expected = useExpected(workspace, settled.kpi ? settled : null, began)
  const unit = kpis.data?.find(({ slug }) => slug === aim.kpi)?.unit
  const number = (value: string | number) => (typeof value === 'number' ? value : null)
  return (
    <fieldset className={classes.aim}>
      <legend>It is to move</legend>
      <Group gap="xs" align="end">
        <Select
          size="xs"
          aria-label="KPI"
          placeholder="Choose a KPI"
          searchable
          nothingFoundMessage="No such KPI"
          className={classes.kpi}
          data={(kpis.data ?? [])
            .filter(({ slug }) => slug === aim.kpi || !taken.includes(slug))
            .map(({ slug, name }) => ({ value: slug, label: name }))}
          value={aim.kpi || null}
          onChange={(kpi) => onChange({ kpi: kpi ?? '' })}
        />
        <SegmentedControl
          size="xs"
          aria-label="Which way"
          data={[
            { value: 'lower', label: 'Lower' },
            { value: 'higher', label: 'Higher' },
          ]}
          value={aim.wanted}
          onChange={(wanted) => onChange({ wanted: wanted as AimDraft['wanted'] })}
        />
        <NumberInput
          size="xs"
          w={110}
          label={`By${unit ? `, ${unit}` : ''}`}
          placeholder="how much"
          min={0}
          value={aim.amount ?? ''}
          onChange={(value) => onChange({ amount: number(value) })}
        />
        <DayInput
          size="xs"
          w={130}
          label="Until"
          placeholder="any time"
          clearable
          value={aim.by ?? ''}
          onChange={(by) => onChange({ by: by || null })}
        />
      </Group>
      <Group gap="xs" mt={6}>
        <span className="quiet">{unit ? `One ${unit} a period` : 'One a period'} is worth</span>
        <NumberInput
          size="xs"
          w={90}
          aria-label="Worth of a unit in a period"
          placeholder="nothing"
          value={aim.worth ?? ''}
          onChange={(value) => onChange({ worth: number(value) })}
        />
        <TextInput
          size="xs"
          w={60}
          aria-label="Unit of the worth"
          placeholder="€"
          maxLength={10}
          value={aim.worth_unit ?? ''}
          onChange={(event) => onChange({ worth_unit: event.currentTarget.value })}
        />
        {onRemove && (
          <Button size="compact-xs" variant="subtle" onClick={onRemove}>
            Leave it out
          </Button>
        )}
      </Group>
      {expected.error && <Notice error={expected.error} />}
      {settled.kpi && expected.data && (
        <p className={classes.expected} role="status">
          {expected.data.problem || `Held against ${expected.data.baseline}`}{' '}
          {expected.data.how_soon}
        </p>
      )}
    </fieldset>
  )
}
