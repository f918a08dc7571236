import { Button, NumberInput, Select, SimpleGrid, Switch, Text, TextInput } from '@mantine/core'
import { useState } from 'react'
import { useAggregations } from '../../api/vocabulary.ts'
import { DIRECTIONS } from '../../shared/directions.ts'
import { entered } from '../../shared/entered.ts'
import { counted } from '../../shared/writing.ts'
import classes from '../Intake.module.css'
import type { Details, KpiChoice, KpiRead } from './table.ts'

interface Props {
  kpi: KpiRead
  /** What the person has chosen so far. */
  choice: KpiChoice
  /** Whether it goes into a KPI that is there, with a name and settings of its own. */
  settled: boolean
  onChange: (choice: KpiChoice) => void
}

/** How the rows of one KPI become points, and what it is called. */
export function KpiForm({ kpi, choice, settled, onChange }: Props) {
  const aggregations = useAggregations()
  const details: Details = choice.details ?? {}
  const [more, setMore] = useState(false)
  const [adjust, setAdjust] = useState(false)
  const choiceInForce = kpi.choice
  const set = (changes: KpiChoice) => onChange({ ...choice, ...changes })
  const detail = (changes: Details) => set({ details: { ...details, ...changes } })
  const many = kpi.combined
  const adjusted = (choiceInForce.factor ?? 1) !== 1 || (choiceInForce.offset ?? 0) !== 0
  return (
    <div className={classes.kpi}>
      {kpi.running_total && <RunningTotal kpi={kpi} set={set} />}
      <SimpleGrid cols={settled ? 1 : 2} spacing="xs" verticalSpacing={6}>
        {!settled && (
          <>
            <TextInput
              label="Name"
              size="xs"
              required
              withAsterisk={false}
              maxLength={120}
              value={details.name ?? kpi.name}
              onChange={(event) => detail({ name: event.currentTarget.value })}
            />
            <TextInput
              label="Unit"
              size="xs"
              maxLength={30}
              value={details.unit ?? kpi.unit}
              onChange={(event) => detail({ unit: event.currentTarget.value })}
            />
          </>
        )}
        {(!settled || many) && (
          <Select
            label="Several values become one by"
            size="xs"
            data={aggregations}
            allowDeselect={false}
            value={choiceInForce.aggregation}
            description={`${many ? `${counted(kpi.row_count, 'row')} make ${counted(kpi.value_count, 'point')}: ` : ''}${kpi.why}`}
            inputWrapperOrder={['label', 'input', 'description']}
            onChange={(value) => set({ aggregation: value as KpiChoice['aggregation'] })}
          />
        )}
        {!settled && (
          <Select
            label="Wanted direction"
            size="xs"
            data={DIRECTIONS}
            allowDeselect={false}
            value={details.direction ?? 'neither'}
            onChange={(value) => detail({ direction: value as Details['direction'] })}
          />
        )}
      </SimpleGrid>
      <div className={classes.links}>
        {!settled && (
          <button type="button" className={classes.link} onClick={() => setMore(!more)}>
            {more
              ? 'Fewer details'
              : kpi.floor === 0 && details.floor === undefined
                ? 'Group, decimals, target, floor 0'
                : 'Group, decimals, target, floor'}
          </button>
        )}
        <button type="button" className={classes.link} onClick={() => setAdjust(!adjust)}>
          {adjusted ? 'Values are adjusted' : 'Adjust the values'}
        </button>
      </div>
      {more && !settled && <More kpi={kpi} details={details} detail={detail} />}
      {adjust && <Adjust kpi={kpi} adjusted={adjusted} set={set} />}
      {kpi.rounded > 0 && (
        <Text size="xs" c="signal">
          {counted(kpi.rounded, 'value')} had more digits than can be kept, and will be rounded.
        </Text>
      )}
    </div>
  )
}

interface PartProps {
  kpi: KpiRead
  set: (changes: KpiChoice) => void
}

/** That its values are readings of a meter: what is shown, and the other way in a click. */
function RunningTotal({ kpi, set }: PartProps) {
  const choiceInForce = kpi.choice
  return (
    <div className={classes.question} role="status">
      <b>This looks like a running total.</b>{' '}
      {choiceInForce.difference
        ? 'The chart shows the amount from one reading to the next.'
        : 'The chart shows the readings as they stand.'}
      {choiceInForce.difference &&
        kpi.resets > 0 &&
        ` ${counted(kpi.resets, 'drop')} taken for a meter reset.`}{' '}
      <button
        type="button"
        className={classes.link}
        onClick={() => set({ difference: !choiceInForce.difference, aggregation: null })}
      >
        {choiceInForce.difference ? 'Show the readings instead' : 'Show the differences'}
      </button>
    </div>
  )
}

interface MoreProps {
  kpi: KpiRead
  details: Details
  detail: (changes: Details) => void
}

/** Details that a KPI can do without at first. */
function More({ kpi, details, detail }: MoreProps) {
  return (
    <SimpleGrid cols={2} spacing="xs" verticalSpacing={6}>
      <TextInput
        label="Group"
        size="xs"
        maxLength={60}
        placeholder="Quays"
        value={details.group ?? ''}
        onChange={(event) => detail({ group: event.currentTarget.value })}
      />
      <NumberInput
        label="Decimals"
        size="xs"
        min={0}
        max={12}
        allowDecimal={false}
        value={details.decimals ?? kpi.decimals}
        onChange={(value) => detail({ decimals: Number(value) || 0 })}
      />
      <NumberInput
        label="Target"
        size="xs"
        value={details.target ?? ''}
        onChange={(value) => detail({ target: entered(value) })}
      />
      <NumberInput
        label="Floor"
        size="xs"
        placeholder="0 for counts"
        value={(details.floor === undefined ? kpi.floor : details.floor) ?? ''}
        onChange={(value) => detail({ floor: entered(value) })}
      />
    </SimpleGrid>
  )
}

/** What is done to each value: differences of a meter, times and plus. */
function Adjust({ kpi, adjusted, set }: PartProps & { adjusted: boolean }) {
  const choiceInForce = kpi.choice
  return (
    <div className={classes.adjust}>
      {!kpi.running_total && (
        <Switch
          size="xs"
          label="They are readings of a running total: take the differences"
          checked={choiceInForce.difference ?? false}
          onChange={(event) => set({ difference: event.currentTarget.checked })}
        />
      )}
      {choiceInForce.difference && (
        <Select
          size="xs"
          label="A reading lower than the one before is"
          data={[
            { value: 'reset', label: 'a meter reset: it counts from zero' },
            { value: 'negative', label: 'a true negative amount' },
          ]}
          allowDeselect={false}
          value={choiceInForce.drop}
          onChange={(value) => set({ drop: value as KpiChoice['drop'] })}
        />
      )}
      <SimpleGrid cols={2} spacing="xs">
        <NumberInput
          label="Times"
          size="xs"
          value={choiceInForce.factor ?? 1}
          onChange={(value) => set({ factor: Number(value) || 1 })}
        />
        <NumberInput
          label="Plus"
          size="xs"
          value={choiceInForce.offset ?? 0}
          onChange={(value) => set({ offset: Number(value) || 0 })}
        />
      </SimpleGrid>
      {adjusted && (
        <Button size="compact-xs" variant="default" onClick={() => set({ factor: 1, offset: 0 })}>
          Leave the values as they are
        </Button>
      )}
    </div>
  )
}
