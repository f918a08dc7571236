import { Combobox, Modal, Text, TextInput, useCombobox } from '@mantine/core'
import { useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import { useKpis } from '../shared/kpis.ts'

interface Props {
  workspace: string
  /** What was typed before the list had come. */
  typed: string
  onClose: () => void
  onKeys: () => void
}

interface Place {
  value: string
  name: string
  hint: string
  go: () => void
}

/** As many as can be taken in at a glance; another letter narrows them down. */
const MOST = 9

/** Goes anywhere by typing a part of its name. */
export function Jump({ onClose, ...props }: Props) {
  return (
    <Modal
      opened
      onClose={onClose}
      withCloseButton={false}
      yOffset="12vh"
      size={520}
      title="Jump to"
    >
      <Places onClose={onClose} {...props} />
    </Modal>
  )
}

function Places({ workspace, typed, onClose, onKeys }: Props) {
  const kpis = useKpis(workspace)
  const navigate = useNavigate()
  const combobox = useCombobox({ opened: true })
  const [text, setText] = useState(typed)
  const { selectFirstOption } = combobox
  // What was typed before the list had come chooses once there is something to choose from.
  const listed = kpis.data !== undefined
  useEffect(() => {
    if (typed && listed) selectFirstOption()
  }, [typed, listed, selectFirstOption])
  const places: Place[] = [
    ...(kpis.data ?? []).map((kpi) => ({
      value: kpi.slug,
      name: kpi.name,
      hint: [kpi.group, kpi.latest].filter(Boolean).join(' · '),
      go: () => navigate(`/${workspace}/charts/${kpi.slug}`),
    })),
    {
      value: ' overview',
      name: 'Overview',
      hint: 'all KPIs on one time axis',
      go: () => navigate(`/${workspace}`),
    },
    {
      value: ' compare',
      name: 'Compare',
      hint: 'parts, people, pairs, places, shares',
      go: () => navigate(`/${workspace}/compare`),
    },
    {
      value: ' improvements',
      name: 'Improvements',
      hint: 'what was done, and what came of it',
      go: () => navigate(`/${workspace}/improvements`),
    },
    {
      value: ' pages',
      name: 'Pages',
      hint: 'sheets arranged for others',
      go: () => navigate(`/${workspace}/pages`),
    },
    {
      value: ' reports',
      name: 'Reports',
      hint: 'what was made to be handed over',
      go: () => navigate(`/${workspace}/reports`),
    },
    {
      value: ' people',
      name: 'People',
      hint: 'roles, invitations, who did what',
      go: () => navigate(`/${workspace}/people`),
    },
    {
      value: ' new',
      name: 'New KPI',
      hint: 'from a table',
      go: () => navigate(`/${workspace}/new`),
    },
    {
      value: ' findings',
      name: 'Findings',
      hint: 'signals of all KPIs, and what is made of them',
      go: () => navigate(`/${workspace}/findings`),
    },
    {
      value: ' fill-in',
      name: 'To fill in',
      hint: 'values that are due',
      go: () => navigate(`/${workspace}/fill-in`),
    },
    {
      value: ' for-you',
      name: 'For you',
      hint: 'assigned, due, named',
      go: () => navigate(`/${workspace}/for-you`),
    },
    {
      value: ' events',
      name: 'Events',
      hint: 'what happened',
      go: () => navigate(`/${workspace}/events`),
    },
    {
      value: ' help',
      name: 'Help',
      hint: 'how to, in words',
      go: () => void window.open('/help/index.html', '_blank'),
    },
    {
      value: ' data',
      name: 'Data',
      hint: 'what was brought in',
      go: () => navigate(`/${workspace}/data`),
    },
    {
      value: ' messages',
      name: 'Messages',
      hint: 'what you hear of, the digest, webhooks',
      go: () => navigate(`/${workspace}/messages`),
    },
    {
      value: ' wall',
      name: 'On the wall',
      hint: 'all KPIs, one after the other',
      go: () => navigate(`/${workspace}/wall`),
    },
    { value: ' keys', name: 'Keys', hint: 'what can be done from the keyboard', go: onKeys },
  ]
  const words = text.toLowerCase().split(/\s+/)
  const found = places.filter((place) =>
    words.every((word) => `${place.name} ${place.hint}`.toLowerCase().includes(word)),
  )

  return (
    <Combobox
      store={combobox}
      withinPortal={false}
      onOptionSubmit={(value) => {
        onClose()
        places.find((place) => place.value === value)?.go()
      }}
    >
      <Combobox.EventsTarget>
        <TextInput
          data-autofocus
          size="md"
          placeholder="Name of a KPI, or what to do"
          aria-label="Jump to"
          value={text}
          // The list would take the key for itself, and it has nothing to close but the whole.
          onKeyDownCapture={(event) => event.key === 'Escape' && onClose()}
          onChange={(event) => {
            setText(event.currentTarget.value)
            combobox.selectFirstOption()
          }}
        />
      </Combobox.EventsTarget>
      <Combobox.Options aria-label="Places" mt="xs">
        {found.slice(0, MOST).map((place) => (
          <Combobox.Option value={place.value} key={place.value}>
            <Text span fw={600}>
              {place.name}
            </Text>{' '}
            <Text span size="sm" c="dimmed">
              {place.hint}
            </Text>
          </Combobox.Option>
        ))}
        {found.length === 0 && <Combobox.Empty>Nothing has “{text}” in its name</Combobox.Empty>}
      </Combobox.Options>
    </Combobox>
  )
}
