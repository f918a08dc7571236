import { Button, Text, Title, UnstyledButton } from '@mantine/core'
import { useParams } from 'react-router'
import { useMay } from '../shared/may.ts'
import { useSession, useSignIn } from '../shared/session.ts'
import classes from './FirstHour.module.css'
import { Intake } from './IntakePage.tsx'
import routine from './samples/routine.csv?raw'
import season from './samples/season.csv?raw'
import shift from './samples/shift.csv?raw'
import signal from './samples/signal.csv?raw'

const SAMPLES = [
  {
    name: 'Routine',
    lesson: 'Goes up and down, and nothing in it asks for a reason.',
    text: routine,
  },
  {
    name: 'A signal',
    lesson: 'One week stands out: that one is worth asking about.',
    text: signal,
  },
  {
    name: 'A shift',
    lesson: 'It runs at another level since a day that can be found.',
    text: shift,
  },
  {
    name: 'A season',
    lesson: 'Each month has its own usual, and limits that follow.',
    text: season,
  },
]

/** A workspace without KPIs: a table of one's own, one to learn from, or a look around. */
export function FirstHour() {
  const { workspace = '' } = useParams()
  const may = useMay()
  if (!may.edit)
    return (
      <>
        <Title order={1} size={25} mb={4}>
          No KPIs yet
        </Title>
        <p className="quiet">
          Nobody has brought a table here so far. Whoever may edit this workspace can.
        </p>
      </>
    )
  return (
    <Intake
      workspace={workspace}
      into={null}
      title="Begin with a table"
      beside={(take, busy) => <OtherBeginnings workspace={workspace} busy={busy} onText={take} />}
    />
  )
}

function OtherBeginnings(props: {
  workspace: string
  busy: boolean
  onText: (text: string) => void
}) {
  const { workspace, busy, onText } = props
  const session = useSession().data
  const signIn = useSignIn()
  const others = session?.workspaces.filter(({ slug }) => slug !== workspace) ?? []
  return (
    <div className={classes.beside}>
      <section aria-labelledby="samples">
        <h2 id="samples">Or try one</h2>
        <ul className={classes.samples}>
          {SAMPLES.map(({ name, lesson, text }) => (
            <li key={name}>
              <UnstyledButton
                className={`card ${classes.sample}`}
                disabled={busy}
                onClick={() => onText(text)}
              >
                <b>{name}</b>
                <span>{lesson}</span>
              </UnstyledButton>
            </li>
          ))}
        </ul>
        <Text size="sm" c="dimmed">
          Made-up figures of a ferry. Nothing is saved before you say so, and a KPI is deleted from
          its history.
        </Text>
      </section>
      {(session?.demo || others.length > 0) && (
        <section aria-labelledby="around">
          <h2 id="around">Or look around</h2>
          {others.map(({ slug, name }) => (
            <Button key={slug} variant="default" component="a" href={`/${slug}`} mr="xs" mb="xs">
              {name}
            </Button>
          ))}
          {session?.demo && others.length === 0 && (
            <>
              <Button
                variant="default"
                loading={signIn.isPending}
                onClick={() =>
                  signIn.mutate('demo', { onSuccess: () => window.location.assign('/') })
                }
              >
                Marrowick Ferries, the demo
              </Button>
              <Text size="sm" c="dimmed" mt={6}>
                As its person: sign in as yourself again afterwards.
              </Text>
            </>
          )}
        </section>
      )}
    </div>
  )
}
