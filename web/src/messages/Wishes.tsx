import { Button, Group, Select, Text, Title } from '@mantine/core'
import { useEffect, useRef, useState } from 'react'
import { useSearchParams } from 'react-router'
import { useKpis } from '../shared/kpis.ts'
import classes from './Messages.module.css'
import { HOWS, type How, type Messages, TOPICS, type Topic, useMessageActs } from './messages.ts'

interface Props {
  workspace: string
  messages: Messages
}

const names = Object.keys(TOPICS) as Topic[]
const AROUND = 'around'

interface Of {
  kpi: string | null
  group: string
}

const same = (a: Of, b: Of) => a.kpi === b.kpi && a.group === b.group
const keyOf = ({ kpi, group }: Of) => (kpi ? `kpi ${kpi}` : group ? `group ${group}` : 'everything')

/** What one wants to hear of, and how: of everything, of a group, of a KPI. The nearest counts. */
export function Wishes({ workspace, messages }: Props) {
  const kpis = useKpis(workspace).data ?? []
  const acts = useMessageActs(workspace)
  const [query] = useSearchParams()
  const asked = query.get('kpi')
  const [of, setOf] = useState<Of>({ kpi: asked, group: '' })
  const section = useRef<HTMLElement>(null)
  // Who comes from a chart wants this part, not what has happened above it.
  useEffect(() => {
    if (asked) section.current?.scrollIntoView()
  }, [asked])
  const wish = messages.wishes.find((one) => same(one, of))
  const everything = of.kpi === null && of.group === ''
  const how = (wish?.how ?? {}) as Partial<Record<Topic, How>>
  const groups = [...new Set(kpis.map(({ group }) => group).filter(Boolean))]
  const quiet = wish?.quiet_until && new Date(wish.quiet_until) > new Date()

  const group = kpis.find(({ slug }) => slug === of.kpi)?.group ?? ''
  const around = [
    of.kpi !== null &&
      group !== '' &&
      messages.wishes.find((one) => one.kpi === null && one.group === group),
    messages.wishes.find((one) => one.kpi === null && one.group === ''),
  ]
  const aroundOf = (topic: Topic): How =>
    around.map((one) => one && (one.how as Partial<Record<Topic, How>>)[topic]).find(Boolean) ||
    (messages.default[topic] as How)

  const keep = (topic: Topic, value: string | null) => {
    const { [topic]: _, ...rest } = how
    const chosen = value === AROUND || value === null ? rest : { ...rest, [topic]: value as How }
    acts.wish.mutate({ ...of, how: chosen, quiet_until: wish?.quiet_until ?? null })
  }
  const rest = (days: number | null) =>
    acts.wish.mutate({
      ...of,
      how,
      quiet_until: days === null ? null : new Date(Date.now() + days * 86_400_000).toISOString(),
    })

  return (
    <section aria-labelledby="wishes" ref={section} className={classes.section}>
      <Title order={2} size={18} id="wishes" mt="xl" mb={4}>
        What you hear of
      </Title>
      <Group align="flex-end" gap="xs" mb="xs">
        <Select
          label="Of"
          searchable
          data={[
            { value: 'everything', label: 'Everything' },
            ...groups.map((group) => ({ value: `group ${group}`, label: `All of ${group}` })),
            ...kpis.map(({ slug, name }) => ({ value: `kpi ${slug}`, label: name })),
          ]}
          value={keyOf(of)}
          allowDeselect={false}
          onChange={(value) => {
            const [kind = '', ...rest] = (value ?? '').split(' ')
            setOf({
              kpi: kind === 'kpi' ? rest.join(' ') : null,
              group: kind === 'group' ? rest.join(' ') : '',
            })
          }}
          w={280}
        />
        {quiet ? (
          <Button variant="default" onClick={() => rest(null)}>
            Quiet until {new Date(wish.quiet_until ?? '').toLocaleDateString('en-GB')}: end that
          </Button>
        ) : (
          <Button variant="default" onClick={() => rest(7)}>
            Quiet for a week
          </Button>
        )}
      </Group>
      <table className={classes.wishes}>
        <tbody>
          {names.map((topic) => (
            <tr key={topic}>
              <th scope="row" id={`topic-${topic}`}>
                {TOPICS[topic]}
              </th>
              <td>
                <Select
                  aria-labelledby={`topic-${topic}`}
                  size="xs"
                  w={250}
                  data={[
                    ...(everything
                      ? []
                      : [
                          {
                            value: AROUND,
                            label: `As around it: ${HOWS[aroundOf(topic)].toLowerCase()}`,
                          },
                        ]),
                    ...Object.entries(HOWS).map(([value, label]) => ({ value, label })),
                  ]}
                  value={how[topic] ?? (everything ? messages.default[topic] : AROUND)}
                  allowDeselect={false}
                  onChange={(value) => keep(topic, value)}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {messages.wishes.length > 0 && (
        <Text size="sm" c="dimmed" mt={6}>
          You have said something of{' '}
          {messages.wishes
            .map((one) => one.kpi_name || (one.group ? `all of ${one.group}` : 'everything'))
            .join(', ')}
          .
        </Text>
      )}
    </section>
  )
}
