import { ActionIcon, Button, Loader, Portal } from '@mantine/core'
import { useWindowEvent } from '@mantine/hooks'
import { IconPlayerTrackNext, IconPlayerTrackPrev, IconX } from '@tabler/icons-react'
import { lazy, Suspense, useEffect, useState } from 'react'
import { useNavigate, useParams, useSearchParams } from 'react-router'
import { HairlineProvider } from '../chart/hairline.tsx'
import { usePage } from '../pages/pages.ts'
import { type May, useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Meeting.module.css'
import { type Thing, thingsIn, thingsOf, useBuildUp } from './meeting.ts'
import { OnScreen, VIEW } from './Shown.tsx'

const WriteDown = lazy(async () => ({ default: (await import('./WriteDown.tsx')).WriteDown }))

/** What is shown to others, one thing at a time, full screen. */
export function MeetingPage() {
  const { workspace = '' } = useParams()
  const [query] = useSearchParams()
  const number = Number(query.get('page')) || 0
  const page = usePage(workspace, number)
  if (number && page.isPending) return <Loader role="status" aria-label="Loading" />
  if (number && page.error) return <Notice error={page.error} retry={page.refetch} />
  const things = number && page.data ? thingsOf(page.data) : thingsIn(query)
  return (
    <HairlineProvider>
      <Room workspace={workspace} things={things} page={number || null} />
    </HairlineProvider>
  )
}

function Room({
  workspace,
  things,
  page,
}: {
  workspace: string
  things: Thing[]
  page: number | null
}) {
  const navigate = useNavigate()
  const may = useMay()
  const [at, setAt] = useState(0)
  const [step, setStep] = useState<number | null>(null)
  const [blank, setBlank] = useState(false)
  const [deep, setDeep] = useState(true)
  const [writing, setWriting] = useState(false)
  const thing = things[at]
  const path = { workspace, kpi: thing?.kpi ?? '' }
  const steps = useBuildUp(path, VIEW, step !== null && thing?.kpi !== undefined).data?.steps
  const last = (steps?.length ?? 1) - 1
  const leave = () =>
    navigate(
      page !== null
        ? `/${workspace}/pages/${page}`
        : thing?.kpi && things.length === 1
          ? `/${workspace}/charts/${thing.kpi}`
          : thing?.panel
            ? `/${workspace}/compare`
            : `/${workspace}`,
    )
  function go(by: 1 | -1) {
    if (step !== null && step + by >= 0 && step + by <= last) return setStep(step + by)
    const next = at + by
    if (next < 0 || next >= things.length) return
    setAt(next)
    // What comes next is built up as well, from its beginning.
    if (step !== null) setStep(0)
    setWriting(false)
  }
  useWindowEvent('keydown', (event) => {
    const typing =
      event.target instanceof HTMLElement && event.target.closest('input, textarea, [role=listbox]')
    if (typing || event.ctrlKey || event.metaKey || event.altKey) return
    const act = {
      ArrowRight: () => go(1),
      ArrowLeft: () => go(-1),
      // What clickers send.
      PageDown: () => go(1),
      PageUp: () => go(-1),
      ' ': () => go(1),
      b: () => setBlank(!blank),
      B: () => setBlank(!blank),
      '.': () => setBlank(!blank),
      u: () => setStep(step === null ? 0 : null),
      U: () => setStep(step === null ? 0 : null),
      w: () => may.add && setWriting(!writing),
      Escape: () => (blank ? setBlank(false) : writing ? setWriting(false) : leave()),
    }[event.key]
    // A button in focus takes the space bar itself.
    const pressed = event.key === ' ' && event.target instanceof HTMLButtonElement
    if (!act || pressed) return
    event.preventDefault()
    act()
  })
  useEffect(() => {
    document.title = 'Meeting · Fluctus'
  }, [])

  return (
    <main className={classes.room} data-ground={deep ? 'deep' : 'white'} aria-label="Meeting">
      <OnScreen key={`${thing?.kpi} ${at}`} {...{ workspace, thing, step }} steps={steps ?? null} />
      {writing && thing?.kpi && (
        // In the colors of the application, whatever the room's are.
        <Portal>
          <section className={`card ${classes.writing}`} aria-label="Write down">
            <Suspense>
              <WriteDown path={path} onClose={() => setWriting(false)} />
            </Suspense>
          </section>
        </Portal>
      )}
      <Foot
        {...{ at, step, last, things, deep, may }}
        canBuild={thing?.kpi !== undefined}
        onGo={go}
        onStep={(n) => (step === null ? setAt(n) : setStep(n))}
        onBuild={() => setStep(step === null ? 0 : null)}
        onGround={() => setDeep(!deep)}
        onWrite={() => setWriting(!writing)}
        onLeave={leave}
      />
      {blank && (
        <button
          type="button"
          className={classes.blank}
          aria-label="The screen is blank. Press B to show it again."
          onClick={() => setBlank(false)}
        />
      )}
    </main>
  )
}

function Foot(props: {
  at: number
  step: number | null
  last: number
  things: Thing[]
  deep: boolean
  may: May
  canBuild: boolean
  onGo: (by: 1 | -1) => void
  onStep: (n: number) => void
  onBuild: () => void
  onGround: () => void
  onWrite: () => void
  onLeave: () => void
}) {
  const { at, step, last, things, deep, may } = props
  const count = step === null ? things.length : last + 1
  const now = step ?? at
  const plain = { variant: 'subtle', color: 'gray', c: 'inherit', size: 'compact-sm' } as const
  return (
    <div className={classes.foot}>
      {props.canBuild && (
        <Button {...plain} onClick={props.onBuild}>
          {step === null ? 'Build up (U)' : 'Show all of it (U)'}
        </Button>
      )}
      {props.canBuild && may.add && (
        <Button {...plain} onClick={props.onWrite}>
          Write down (W)
        </Button>
      )}
      <Button {...plain} onClick={props.onGround}>
        {deep ? 'White' : 'Deep'} background
      </Button>
      <div className={classes.dots}>
        {count > 1 &&
          Array.from({ length: Math.min(count, 30) }, (_, n) => n).map((n) => (
            <button
              key={n}
              type="button"
              aria-label={`${step === null ? 'Thing' : 'Step'} ${n + 1} of ${count}`}
              aria-current={n === now ? 'step' : undefined}
              onClick={() => props.onStep(n)}
            />
          ))}
      </div>
      <span>B blanks the screen</span>
      <ActionIcon {...plain} size={30} aria-label="Back" onClick={() => props.onGo(-1)}>
        <IconPlayerTrackPrev size={18} />
      </ActionIcon>
      <ActionIcon {...plain} size={30} aria-label="Next" onClick={() => props.onGo(1)}>
        <IconPlayerTrackNext size={18} />
      </ActionIcon>
      <ActionIcon {...plain} size={30} aria-label="Leave the meeting" onClick={props.onLeave}>
        <IconX size={18} />
      </ActionIcon>
    </div>
  )
}
