import {
  Button,
  Checkbox,
  Group,
  Modal,
  MultiSelect,
  SegmentedControl,
  Select,
  Stack,
  Textarea,
  TextInput,
} from '@mantine/core'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { usePages } from '../pages/pages.ts'
import { useKpis } from '../shared/kpis.ts'
import { Notice } from '../shared/Notice.tsx'
import { useSession } from '../shared/session.ts'
import { FORMATS, type Format, useReportActs } from './reports.ts'

type Scope = Schemas['Scope']

export interface Start {
  scope: Scope
  kpis?: string[]
  page?: number
  group?: string
  title?: string
  views?: Record<string, string>
}

const WEEKS = [
  { value: '', label: 'All dates' },
  { value: '13', label: 'Last 13 weeks' },
  { value: '26', label: 'Last 26 weeks' },
  { value: '52', label: 'Last 52 weeks' },
]

/** Asks for what is to be handed over. Long as one form: its fields in turn. */
export function NewReport({
  workspace,
  start,
  onClose,
}: {
  workspace: string
  start: Start
  onClose: () => void
}) {
  const session = useSession().data
  const kpis = useKpis(workspace).data ?? []
  const pages = usePages(workspace, 0).data?.pages ?? []
  const { make } = useReportActs(workspace)
  const navigate = useNavigate()
  const [format, setFormat] = useState<Format>('pdf')
  const [scope, setScope] = useState<Scope>(start.scope)
  const [chosen, setChosen] = useState(start.kpis ?? [])
  const [page, setPage] = useState(start.page ?? null)
  const [group, setGroup] = useState(start.group ?? '')
  const [title, setTitle] = useState(start.title ?? '')
  const [author, setAuthor] = useState(session?.person ?? '')
  const [intro, setIntro] = useState('')
  const [texts, setTexts] = useState<Record<string, string>>({})
  const [weeks, setWeeks] = useState('')
  const [paper, setPaper] = useState<'A4' | 'letter'>('A4')
  const [names, setNames] = useState(true)
  const groups = [...new Set(kpis.map((kpi) => kpi.group).filter(Boolean))]
  const written = format === 'pdf' || format === 'slides'
  const shown =
    scope === 'kpis'
      ? kpis.filter((kpi) => chosen.includes(kpi.slug))
      : scope === 'group'
        ? kpis.filter((kpi) => kpi.group === group)
        : []
  const whole = {
    kpis: chosen.length > 0,
    group: groups.includes(group),
    page: page !== null,
    new: true,
    all: true,
  }[scope]

  return (
    <Modal
      opened
      onClose={onClose}
      size="lg"
      title="Hand over"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          make.mutate(
            {
              ...{ title: title.trim(), format, scope, page, group, author, intro, texts, paper },
              ...{ names, kpis: scope === 'kpis' ? chosen : [], views: start.views ?? {} },
              ...{ weeks: weeks ? Number(weeks) : null, first: null, last: null },
            },
            {
              onSuccess: ({ id }) => {
                onClose()
                navigate(`/${workspace}/reports/${id}`)
              },
            },
          )
        }}
      >
        <Stack gap="sm">
          {make.error && <Notice error={make.error} />}
          <SegmentedControl
            aria-label="What is made"
            value={format}
            data={Object.entries(FORMATS).map(([value, { name, file }]) => ({
              value,
              label: `${name} (${file})`,
            }))}
            onChange={(value) => setFormat(value as Format)}
          />
          <p className="quiet" style={{ margin: 0 }}>
            {FORMATS[format].says}
          </p>
          <TextInput
            label="Title"
            data-autofocus
            required
            withAsterisk={false}
            maxLength={200}
            value={title}
            onChange={(event) => setTitle(event.currentTarget.value)}
          />
          <Group grow align="start">
            <Select
              label="Shows"
              allowDeselect={false}
              data={[
                { value: 'kpis', label: 'Chosen KPIs' },
                ...(groups.length > 0 ? [{ value: 'group', label: 'A group' }] : []),
                ...(pages.length > 0 && written ? [{ value: 'page', label: 'A page' }] : []),
                { value: 'new', label: 'KPIs with something new' },
                { value: 'all', label: 'All KPIs' },
              ]}
              value={scope}
              onChange={(value) => setScope(value as Scope)}
            />
            {scope === 'kpis' && (
              <MultiSelect
                label="KPIs"
                searchable
                data={kpis.map((kpi) => ({ value: kpi.slug, label: kpi.name }))}
                value={chosen}
                onChange={setChosen}
              />
            )}
            {scope === 'group' && (
              <Select
                label="Group"
                data={groups}
                value={group}
                onChange={(value) => setGroup(value ?? '')}
              />
            )}
            {scope === 'page' && (
              <Select
                label="Page"
                data={pages.map(({ id, title }) => ({ value: String(id), label: title }))}
                value={page === null ? null : String(page)}
                onChange={(value) => setPage(value ? Number(value) : null)}
              />
            )}
          </Group>
          {written && (
            <>
              <Group grow>
                <TextInput
                  label="Author"
                  maxLength={120}
                  value={author}
                  onChange={(event) => setAuthor(event.currentTarget.value)}
                />
                <Select
                  label="Dates"
                  allowDeselect={false}
                  data={WEEKS}
                  value={weeks}
                  onChange={(value) => setWeeks(value ?? '')}
                />
                {format === 'pdf' && (
                  <Select
                    label="Paper"
                    allowDeselect={false}
                    data={[
                      { value: 'A4', label: 'A4' },
                      { value: 'letter', label: 'Letter' },
                    ]}
                    value={paper}
                    onChange={(value) => setPaper(value as typeof paper)}
                  />
                )}
              </Group>
              <Textarea
                label="Words of your own, at the beginning"
                autosize
                minRows={2}
                maxRows={8}
                maxLength={5000}
                value={intro}
                onChange={(event) => setIntro(event.currentTarget.value)}
              />
              {shown.length > 0 && shown.length <= 12 && (
                <details>
                  <summary>Words before each chart</summary>
                  <Stack gap="xs" mt="xs">
                    {shown.map((kpi) => (
                      <Textarea
                        key={kpi.slug}
                        label={`Before ${kpi.name}`}
                        autosize
                        minRows={1}
                        maxRows={5}
                        maxLength={5000}
                        value={texts[kpi.slug] ?? ''}
                        onChange={(event) =>
                          setTexts({ ...texts, [kpi.slug]: event.currentTarget.value })
                        }
                      />
                    ))}
                  </Stack>
                </details>
              )}
            </>
          )}
          <Checkbox
            label="Name the people who look into findings"
            checked={names}
            onChange={(event) => setNames(event.currentTarget.checked)}
          />
          <Group>
            <Button type="submit" loading={make.isPending} disabled={!title.trim() || !whole}>
              Make it
            </Button>
          </Group>
        </Stack>
      </form>
    </Modal>
  )
}
