import { Combobox, Modal, Text, TextInput, useCombobox } from '@mantine/core'
import { useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import { useKpis } from '../shared/kpis.ts'
import classes from './Jump.module.css'

interface Props {
  workspace: string
  /** What was typed before the list had come. */
  typed: string
  onClose: () => void
  onKeys: () => void
}

interface Goal {
  value: string
  name: string
  hint: string
  go: () => void
}

/** The screens, each with what is there, and its address in the workspace. */
const SCREENS: [name: string, hint: string, path: string][] = [
  ['Overview', 'all KPIs on one time axis', ''],
  ['Compare', 'parts, people, pairs, places, shares', 'compare'],
  ['Improvements', 'what was done, and what came of it', 'improvements'],
  ['Pages', 'sheets arranged for others', 'pages'],
  ['Reports', 'what was made to be handed over', 'reports'],
  ['People', 'roles, invitations, who did what', 'people'],
  ['New KPI', 'from a table', 'new'],
  ['Findings', 'signals of all KPIs, and what is made of them', 'findings'],
  ['To fill in', 'values that are due', 'fill-in'],
  ['For you', 'assigned, due, named', 'for-you'],
  ['Events', 'what happened', 'events'],
  ['Data', 'what was brought in', 'data'],
  ['Messages', 'what you hear of, the digest, webhooks', 'messages'],
  ['On the wall', 'all KPIs, one after the other', 'wall'],
]

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
      <Goals onClose={onClose} {...props} />
    </Modal>
  )
}

function Goals({ workspace, typed, onClose, onKeys }: Props) {
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
  const goals: Goal[] = [
    ...(kpis.data ?? []).map((kpi) => ({
      value: kpi.slug,
      name: kpi.name,
      hint: [kpi.group, kpi.latest].filter(Boolean).join(' · '),
      go: () => navigate(`/${workspace}/charts/${kpi.slug}`),
    })),
    ...SCREENS.map(([name, hint, path]) => ({
      value: ` ${path}`,
      name,
      hint,
      go: () => navigate(`/${workspace}/${path}`),
    })),
    {
      value: ' help',
      name: 'Help',
      hint: 'how to, in words',
      go: () => void window.open('/help/index.html', '_blank'),
    },
    { value: ' keys', name: 'Keys', hint: 'what can be done from the keyboard', go: onKeys },
  ]
  const found = named(goals, text)

  return (
    <Combobox
      store={combobox}
      withinPortal={false}
      onOptionSubmit={(value) => {
        onClose()
        goals.find((goal) => goal.value === value)?.go()
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
      <Combobox.Options aria-label="Where to" mt="xs">
        {found.slice(0, MOST).map((goal) => (
          <Combobox.Option value={goal.value} key={goal.value}>
            <Text span fw={600}>
              {goal.name}
            </Text>{' '}
            <Text span size="sm" className={classes.hint ?? ''}>
              {goal.hint}
            </Text>
          </Combobox.Option>
        ))}
        {found.length === 0 && <Combobox.Empty>Nothing has “{text}” in its name</Combobox.Empty>}
      </Combobox.Options>
    </Combobox>
  )
}

/** Those that have all the words: first those whose name begins with them, then has them. Pure. */
export function named<G extends { name: string; hint: string }>(goals: G[], text: string): G[] {
  const typed = text.trim().toLowerCase()
  const words = typed.split(/\s+/)
  const has = (said: string) => words.every((word) => said.toLowerCase().includes(word))
  const rank = ({ name }: G) => (name.toLowerCase().startsWith(typed) ? 0 : has(name) ? 1 : 2)
  return goals
    .filter(({ name, hint }) => has(`${name} ${hint}`))
    .sort((one, other) => rank(one) - rank(other))
}
