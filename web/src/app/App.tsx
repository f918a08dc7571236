import { Center, Loader } from '@mantine/core'
import { useNotifications } from '@mantine/notifications'
import { lazy, Suspense, useEffect, useRef } from 'react'
import { Navigate, Route, Routes } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { letIn, useAsked } from '../api/doorkeeper.ts'
import { Announcements } from '../shared/announcing.tsx'
import { Boundary } from '../shared/Boundary.tsx'
import { NoWorkspace, Nowhere } from '../shared/Empty.tsx'
import { Notice } from '../shared/Notice.tsx'
import { useSession } from '../shared/session.ts'
import { homeOf } from './home.ts'
import { Shell } from './Shell.tsx'
import {
  AccountPage,
  ChartPage,
  ComparePage,
  ConditionPage,
  DataPage,
  Door,
  EventsPage,
  FeedPage,
  FillInPage,
  FindingsPage,
  Forgotten,
  ForYouPage,
  HistoryPage,
  ImprovementsPage,
  IntakePage,
  Join,
  LearnPage,
  LettersPage,
  LinksPage,
  MeetingPage,
  MessagesPage,
  OverviewPage,
  PagesPage,
  PeoplePage,
  ReportPage,
  ReportsPage,
  Reset,
  SharedPage,
  SheetPage,
  TokensPage,
  ValuesPage,
  WallPage,
} from './screens.tsx'

const SignIn = lazy(async () => ({ default: (await import('../account/SignIn.tsx')).SignIn }))
const Notices = lazy(() => import('./Notices.tsx'))

// Before anything can fail: without a network it could not be loaded any more.
for (const act of ['pointerdown', 'keydown'])
  document.addEventListener(act, () => import('./Notices.tsx').catch(() => undefined), {
    once: true,
  })

export function App() {
  // What shows notices comes with the first of them.
  const { notifications } = useNotifications()
  const asked = useAsked()
  return (
    <>
      {notifications.length > 0 && (
        <Suspense>
          <Notices />
        </Suspense>
      )}
      <Announcements />
      {asked && (
        <Suspense>
          <Door />
        </Suspense>
      )}
      <Boundary>
        <Suspense fallback={<Waiting />}>
          <Routes>
            {/* Opened from a letter, whoever is signed in. */}
            <Route path="/l/:secret" element={<SharedPage />} />
            <Route path="/join" element={<Join />} />
            <Route path="/reset" element={<Reset />} />
            <Route path="/forgotten" element={<Forgotten />} />
            <Route path="*" element={<Screens />} />
          </Routes>
        </Suspense>
      </Boundary>
    </>
  )
}

function Waiting() {
  return (
    <Center h="100vh">
      <Loader role="status" aria-label="Loading" />
    </Center>
  )
}

function Screens() {
  const session = useSession()
  const shown = useRef<Schemas['Session'] | null>(null)
  const ended = session.data?.person === null && shown.current !== null
  useEffect(() => {
    if (ended) letIn('sign-in')
  }, [ended])
  if (session.isPending) return <Waiting />
  if (session.error && !session.data) {
    return (
      <Center h="100vh" p="md">
        <Notice error={session.error} retry={session.refetch} />
      </Center>
    )
  }
  const { person } = session.data
  if (person && session.data !== shown.current) shown.current = session.data
  // A session that has ended replaces nothing that is on the screen: the door stands over it.
  if (!person && !shown.current) return <SignIn session={session.data} />
  const kept = shown.current ?? session.data
  const { workspaces } = kept
  const home = homeOf(workspaces)
  if (!home) return <NoWorkspace />
  return (
    <Routes>
      <Route path="/" element={<Navigate to={`/${home.slug}`} replace />} />
      <Route path="/:workspace/meeting" element={<MeetingPage />} />
      <Route path="/:workspace/wall" element={<WallPage />} />
      <Route path="/:workspace" element={<Shell session={kept} />}>
        <Route index element={<OverviewPage />} />
        <Route path="new" element={<IntakePage key="new" />} />
        <Route path="data" element={<DataPage />} />
        <Route path="messages" element={<MessagesPage />} />
        <Route path="feeds/:feed" element={<FeedPage />} />
        <Route path="feeds/:feed/learn" element={<LearnPage />} />
        <Route path="charts/:kpi/add" element={<IntakePage key="add" />} />
        <Route path="account" element={<AccountPage />} />
        <Route path="people" element={<PeoplePage />} />
        <Route path="links" element={<LinksPage />} />
        <Route path="tokens" element={<TokensPage />} />
        <Route path="how-it-is" element={<ConditionPage />} />
        <Route path="mailbox" element={<LettersPage />} />
        <Route path="reports" element={<ReportsPage />} />
        <Route path="reports/:number" element={<ReportPage />} />
        <Route path="fill-in" element={<FillInPage key={kept.username} />} />
        <Route path="for-you" element={<ForYouPage />} />
        <Route path="findings" element={<FindingsPage />} />
        <Route path="improvements" element={<ImprovementsPage />} />
        <Route path="events" element={<EventsPage />} />
        <Route path="compare" element={<ComparePage />} />
        <Route path="compare/:way" element={<ComparePage />} />
        <Route path="pages" element={<PagesPage />} />
        <Route path="pages/:number" element={<SheetPage />} />
        <Route path="charts/:kpi/history" element={<HistoryPage />} />
        <Route path="charts/:kpi/values" element={<ValuesPage />} />
        <Route path="charts/:kpi" element={<ChartPage />} />
        <Route path="*" element={<Nowhere />} />
      </Route>
    </Routes>
  )
}
