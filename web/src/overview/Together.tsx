import { Loader, Select } from '@mantine/core'
import { Link } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { useHairline } from '../chart/hairline.tsx'
import { dayTime } from '../chart/small/place.ts'
import type { DatesAsked } from '../shared/looking/useDates.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Overview.module.css'
import { useTogether } from './overview.ts'

const WITHIN = [
  { value: '1', label: 'the same day' },
  { value: '7', label: 'a week' },
  { value: '14', label: 'two weeks' },
  { value: '28', label: 'four weeks' },
  { value: '91', label: 'a quarter' },
]

type Stretch = Schemas['TogetherStretch']

interface Props {
  workspace: string
  dates: DatesAsked
  within: number
  onWithin: (within: number) => void
}

/** Findings and shifts of several KPIs that fell together, and how often they would by chance. */
export function Together({ workspace, dates, within, onWithin }: Props) {
  const found = useTogether(workspace, dates, within)
  // What chance explains stands back: nobody should make more of it.
  const byChance = found.data?.stretches.filter((stretch) => stretch.explained) ?? []
  return (
    <section
      className={classes.together}
      aria-label="What fell together"
      aria-busy={found.isFetching}
    >
      {/* biome-ignore lint/a11y/noLabelWithoutControl: the field is the select in it */}
      <label>
        within
        <Select
          size="xs"
          w={150}
          aria-label="Within"
          data={WITHIN}
          value={String(within)}
          allowDeselect={false}
          onChange={(value) => value && onWithin(Number(value))}
        />
      </label>
      {found.isPending && <Loader size="sm" role="status" aria-label="Shifting them at random" />}
      {found.error && <Notice error={found.error} retry={found.refetch} />}
      {found.data?.stretches.length === 0 && (
        <p>Nothing of two KPIs fell together in these dates. Allow more days between.</p>
      )}
      {byChance.length > 0 && byChance.length === found.data?.stretches.length && (
        <p>Nothing fell together that chance does not explain.</p>
      )}
      {found.data?.stretches
        .filter((stretch) => !stretch.explained)
        .map((stretch) => (
          <TogetherCard key={keyOf(stretch)} {...{ stretch, workspace }} />
        ))}
      {byChance.length > 0 && (
        <details className="quiet">
          <summary>
            {byChance.length === 1 ? '1 stretch is' : `${byChance.length} stretches are`} no more
            than chance brings
          </summary>
          {byChance.map((stretch) => (
            <TogetherCard key={keyOf(stretch)} {...{ stretch, workspace }} />
          ))}
        </details>
      )}
      {found.data && found.data.stretches.length > 0 && <p className="quiet">{found.data.how}</p>}
    </section>
  )
}

const keyOf = ({ first, last, title }: Stretch) => `${first} ${last} ${title}`

function TogetherCard({ stretch, workspace }: { stretch: Stretch; workspace: string }) {
  const hairline = useHairline()
  return (
    <div
      className={`card ${classes.stretch}`}
      onPointerEnter={() => hairline.set(dayTime(stretch.first))}
      onPointerLeave={() => hairline.set(null)}
    >
      <h3>{stretch.title}</h3>
      <ul>
        {stretch.members.map((member) => (
          <li key={`${member.kpi} ${member.period}`}>
            <Link to={`/${workspace}/charts/${member.kpi}`}>{member.kpi_name}</Link>: {member.what},{' '}
            {member.label}
          </li>
        ))}
      </ul>
      {stretch.events.length > 0 && <p>At that time: {stretch.events.join(', ')}.</p>}
      <p className="quiet">{stretch.chance}</p>
    </div>
  )
}
