import { Loader } from '@mantine/core'
import { useInterval, useWindowEvent } from '@mantine/hooks'
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useState } from 'react'
import { useNavigate, useParams, useSearchParams } from 'react-router'
import { renew } from '../api/keys.ts'
import { HairlineProvider } from '../chart/hairline.tsx'
import { usePage } from '../pages/pages.ts'
import { useKpis } from '../shared/kpis.ts'
import { useLive } from '../shared/live.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Meeting.module.css'
import { type Thing, thingsIn, thingsOf } from './meeting.ts'
import { OnScreen } from './Shown.tsx'

/** Seconds that one thing stays, unless the address says otherwise. */
const STAYS = 20
const SHORTEST = 5
/** Seconds that the keys are told for. */
const TOLD = 6

/** What hangs on a wall: one thing after the other by itself, and how old it is. */
export function WallPage() {
  const { workspace = '' } = useParams()
  const [query] = useSearchParams()
  const number = Number(query.get('page')) || 0
  const page = usePage(workspace, number)
  const kpis = useKpis(workspace)
  const named = thingsIn(query)
  const all = (kpis.data ?? []).map(({ slug }): Thing => ({ kpi: slug }))
  if (number && page.isPending) return <Loader role="status" aria-label="Loading" />
  if (number && page.error && !page.data) return <Notice error={page.error} retry={page.refetch} />
  const things = number && page.data ? thingsOf(page.data) : named.length > 0 ? named : all
  const stays = Math.max(SHORTEST, Number(query.get('every')) || STAYS)
  return (
    <HairlineProvider>
      <Wall
        {...{ workspace, things, stays }}
        white={query.get('ground') === 'white'}
        back={number ? `/${workspace}/pages/${number}` : `/${workspace}`}
      />
    </HairlineProvider>
  )
}

interface WallProps {
  workspace: string
  things: Thing[]
  stays: number
  white: boolean
  back: string
}

function Wall({ workspace, things, stays, white, back }: WallProps) {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const [at, setAt] = useState(0)
  const [rests, setRests] = useState(false)
  const [told, setTold] = useState(true)
  const onNews = useCallback(() => void renew.afterNews(queries, workspace), [queries, workspace])
  const live = useLive(workspace, onNews, true)
  const go = (by: number) =>
    setAt((now) => (things.length === 0 ? 0 : (now + by + things.length) % things.length))
  useInterval(() => !rests && go(1), stays * 1000, { autoInvoke: true })
  useEffect(() => {
    document.title = 'On the wall · Fluctus'
    const timer = setTimeout(() => setTold(false), TOLD * 1000)
    return () => clearTimeout(timer)
  }, [])
  useWindowEvent('keydown', (event) => {
    const act = {
      ArrowRight: () => go(1),
      ArrowLeft: () => go(-1),
      ' ': () => setRests(!rests),
      f: () =>
        document.fullscreenElement
          ? document.exitFullscreen()
          : document.documentElement.requestFullscreen(),
      Escape: () => navigate(back),
    }[event.key]
    if (!act || event.ctrlKey || event.metaKey || event.altKey) return
    event.preventDefault()
    act()
  })
  const thing = things[at % Math.max(1, things.length)]
  return (
    <main
      className={`${classes.room} ${classes.wall}`}
      data-ground={white ? 'white' : 'deep'}
      aria-label="Wall"
    >
      <OnScreen key={`${thing?.kpi} ${at}`} {...{ workspace, thing }} step={null} steps={null} />
      <p className={classes.age} role="status">
        {told && 'F fills the screen, space holds it, Esc leaves. '}
        {rests && 'Held. '}
        {things.length > 1 && `${(at % things.length) + 1} of ${things.length}. `}
        {live.at === 0
          ? ''
          : live.lost
            ? `No connection since ${clock(live.at)}`
            : `As of ${clock(live.at)}`}
      </p>
    </main>
  )
}

function clock(at: number): string {
  return new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
}
