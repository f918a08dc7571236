import { Center, Loader } from '@mantine/core'
import { Navigate, Route, Routes } from 'react-router'
import { SignIn } from '../account/SignIn.tsx'
import { useSession } from '../account/session.ts'
import { ChartPage } from '../chart-page/ChartPage.tsx'
import { EventsPage } from '../events/EventsPage.tsx'
import { FindingsPage } from '../findings/FindingsPage.tsx'
import { HistoryPage } from '../history/HistoryPage.tsx'
import { DataPage } from '../intake/DataPage.tsx'
import { IntakePage } from '../intake/IntakePage.tsx'
import { Notice } from '../shared/Notice.tsx'
import { ValuesPage } from '../values/ValuesPage.tsx'
import { FirstKpi, NoWorkspace, Nowhere } from './Empty.tsx'
import { Shell } from './Shell.tsx'

export function App() {
  const session = useSession()
  if (session.isPending) {
    return (
      <Center h="100vh">
        <Loader role="status" aria-label="Loading" />
      </Center>
    )
  }
  if (session.error) {
    return (
      <Center h="100vh" p="md">
        <Notice error={session.error} retry={session.refetch} />
      </Center>
    )
  }
  const { person, workspaces, demo } = session.data
  if (!person) return <SignIn demo={demo} />
  const home = workspaces[0]
  if (!home) return <NoWorkspace />
  return (
    <Routes>
      <Route path="/" element={<Navigate to={`/${home.slug}`} replace />} />
      <Route path="/:workspace" element={<Shell session={session.data} />}>
        <Route index element={<FirstKpi />} />
        <Route path="new" element={<IntakePage key="new" />} />
        <Route path="data" element={<DataPage />} />
        <Route path="charts/:kpi/add" element={<IntakePage key="add" />} />
        <Route path="findings" element={<FindingsPage />} />
        <Route path="events" element={<EventsPage />} />
        <Route path="charts/:kpi/history" element={<HistoryPage />} />
        <Route path="charts/:kpi/values" element={<ValuesPage />} />
        <Route path="charts/:kpi" element={<ChartPage />} />
        <Route path="*" element={<Nowhere />} />
      </Route>
    </Routes>
  )
}
