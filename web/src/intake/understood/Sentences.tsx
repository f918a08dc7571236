import { Group, Menu, UnstyledButton } from '@mantine/core'
import { IconArrowBackUp, IconArrowForwardUp, IconChevronDown } from '@tabler/icons-react'
import type { ReactNode } from 'react'
import classes from '../Intake.module.css'
import type { Mapping, Reading } from './table.ts'

type Sentence = Reading['sentences'][number]
type Changes = Omit<Mapping, 'roles'> & { roles?: Mapping['roles'] | null }

interface Props {
  reading: Reading
  mapping: Mapping
  /** Whether the values go into a KPI that has its own grain and calendar. */
  settled: boolean
  onChange: (mapping: Mapping) => void
  undo?: (() => void) | undefined
  redo?: (() => void) | undefined
  children: ReactNode
}

/** What a KPI has settled, whatever a table says. */
const SETTLED = ['grain', 'weekday']

/** How the table was read: a sentence each, with why and what else it could be. */
export function Sentences(props: Props) {
  const { reading, mapping, settled, onChange, undo, redo, children } = props
  const taken = mapping.taken_back ?? []
  const turn = (key: string, done: boolean) =>
    onChange({
      ...mapping,
      taken_back: done ? [...taken, key] : taken.filter((one) => one !== key),
    })
  const told = reading.sentences.filter(({ key }) => !(settled && SETTLED.includes(key)))
  return (
    <section className={classes.sentences} aria-labelledby="how-it-was-read">
      <Group justify="space-between" gap="xs">
        <h2 id="how-it-was-read">How it was read</h2>
        <Group gap={10}>
          <Turn name="Undo" keys="Control+Z" icon={<IconArrowBackUp size={14} />} onTurn={undo} />
          <Turn
            name="Redo"
            keys="Control+Shift+Z"
            icon={<IconArrowForwardUp size={14} />}
            onTurn={redo}
          />
        </Group>
      </Group>
      <ol className={classes.steps} aria-label="What was understood">
        {told.map((sentence) => (
          <li key={sentence.key} data-done={sentence.done ?? true}>
            <span>
              {sentence.done === false ? <s>{sentence.says}</s> : sentence.says}.{' '}
              <span className="quiet">{sentence.why}</span>
            </span>{' '}
            {sentence.done !== null && (
              <button
                type="button"
                className={classes.link}
                aria-label={`${sentence.done ? 'Undo' : 'Do it'}: ${sentence.says}`}
                onClick={() => turn(sentence.key, sentence.done === true)}
              >
                {sentence.done ? 'Undo' : 'Do it'}
              </button>
            )}
            {sentence.alternatives.length > 0 && (
              <Otherwise
                sentence={sentence}
                onChoose={(changes) => onChange(changed(mapping, changes))}
              />
            )}
          </li>
        ))}
      </ol>
      {children}
    </section>
  )
}

/** A mapping with the changes of an alternative: of its roles some, or none of them any more. */
function changed(mapping: Mapping, changes: Changes): Mapping {
  const roles = changes.roles === null ? {} : { ...mapping.roles, ...changes.roles }
  return { ...mapping, ...changes, roles }
}

function Otherwise({
  sentence,
  onChoose,
}: {
  sentence: Sentence
  onChoose: (changes: Changes) => void
}) {
  return (
    <Menu position="bottom-start" withinPortal>
      <Menu.Target>
        <button type="button" className={classes.link} aria-label={`Otherwise: ${sentence.says}`}>
          Otherwise
          <IconChevronDown size={12} aria-hidden />
        </button>
      </Menu.Target>
      <Menu.Dropdown>
        {sentence.alternatives.map(({ reads, changes }) => (
          <Menu.Item key={reads} onClick={() => onChoose(changes as Changes)}>
            {reads}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  )
}

interface TurnProps {
  name: string
  keys: string
  icon: ReactNode
  onTurn: (() => void) | undefined
}

function Turn({ name, keys, icon, onTurn }: TurnProps) {
  return (
    <UnstyledButton
      className={classes.link}
      aria-label={`${name} the last change of the reading`}
      aria-keyshortcuts={keys}
      title={`${name} (${keys})`}
      disabled={!onTurn}
      onClick={onTurn}
    >
      {icon} {name}
    </UnstyledButton>
  )
}
