import { Select, Switch } from '@mantine/core'
import { useVocabulary } from '../api/vocabulary.ts'
import { DayInput } from '../shared/day/DayInput.tsx'
import classes from './Findings.module.css'
import type { Wanted } from './findings.ts'
import { NOBODY } from './wanted.ts'

interface Props {
  wanted: Wanted
  /** The same as it stands in the address. */
  asked: URLSearchParams
  kpis: { slug: string; name: string }[]
  people: { username: string; name: string }[]
  onAsk: (changes: Record<string, string | null>) => void
}

/** Which findings are listed. */
export function Filters({ wanted, asked, kpis, people, onAsk }: Props) {
  const vocabulary = useVocabulary()
  return (
    <div className={classes.filters}>
      <Select
        size="xs"
        label="Order"
        allowDeselect={false}
        data={[
          { value: 'first', label: 'What to do first' },
          { value: 'kpi', label: 'By KPI' },
          { value: 'week', label: 'By week' },
        ]}
        value={wanted.order ?? 'first'}
        onChange={(order) => onAsk({ order: order === 'first' ? null : order })}
      />
      <Select
        size="xs"
        label="KPI"
        placeholder="All"
        clearable
        searchable
        clearButtonProps={{ 'aria-label': 'All KPIs' }}
        data={kpis.map((kpi) => ({ value: kpi.slug, label: kpi.name }))}
        value={wanted.kpi ?? null}
        onChange={(kpi) => onAsk({ kpi })}
      />
      <Select
        size="xs"
        label="Rule"
        placeholder="All"
        clearable
        clearButtonProps={{ 'aria-label': 'All rules' }}
        data={(vocabulary?.rules ?? []).map(({ id, name }) => ({ value: id, label: name }))}
        value={wanted.rule ?? null}
        onChange={(rule) => onAsk({ rule })}
      />
      <Select
        size="xs"
        label="Person"
        placeholder="Anybody"
        clearable
        clearButtonProps={{ 'aria-label': 'Anybody' }}
        data={[
          { value: NOBODY, label: 'Nobody' },
          ...people.map(({ username, name }) => ({
            value: username,
            label: name,
          })),
        ]}
        value={asked.get('person')}
        onChange={(person) => onAsk({ person })}
      />
      <Select
        size="xs"
        label="Direction"
        placeholder="Either"
        clearable
        clearButtonProps={{ 'aria-label': 'Either direction' }}
        data={[
          { value: 'true', label: 'Favorable' },
          { value: 'false', label: 'Unfavorable' },
        ]}
        value={asked.get('favorable')}
        onChange={(favorable) => onAsk({ favorable })}
      />
      <DayInput
        size="xs"
        label="From"
        clearable
        value={wanted.since ?? ''}
        onChange={(since) => onAsk({ since })}
      />
      <DayInput
        size="xs"
        label="To"
        clearable
        value={wanted.until ?? ''}
        onChange={(until) => onAsk({ until })}
      />
      <Switch
        size="xs"
        label="Those off the chart too"
        checked={wanted.gone ?? false}
        onChange={(event) => onAsk({ gone: event.currentTarget.checked ? 'true' : null })}
        mb={6}
      />
    </div>
  )
}
