// Each screen comes when it is first opened: a chart needs nothing of the intake.
import { type ComponentType, lazy, useState } from 'react'

/** The screen whose files are on their way with the first page, as the server names it there. */
const soon = document.querySelector<HTMLMetaElement>('meta[name="screen"]')?.content

/** A screen whose files come when it is shown; or at once, where they are on their way already: what
 * has come by the time is drawn in the same breath, without a moment of nothing. */
function screen<K extends string>(
  load: () => Promise<Record<K, ComponentType>>,
  name: K,
): ComponentType {
  let loaded: ComponentType | null = null
  if (name === soon)
    load().then(
      (module) => {
        loaded = module[name]
      },
      // Asked for again when it is shown, where the failure can be told.
      () => undefined,
    )
  const Later = lazy(async () => ({ default: (await load())[name] as ComponentType }))
  return function Screen() {
    const [Here] = useState(() => loaded)
    return Here ? <Here /> : <Later />
  }
}

export const Forgotten = screen(() => import('../account/Forgotten.tsx'), 'Forgotten')
export const Reset = screen(() => import('../account/Forgotten.tsx'), 'Reset')
export const Join = screen(() => import('../account/Join.tsx'), 'Join')
export const AccountPage = screen(() => import('../account/AccountPage.tsx'), 'AccountPage')
export const PeoplePage = screen(() => import('../account/PeoplePage.tsx'), 'PeoplePage')
export const TokensPage = screen(() => import('../account/TokensPage.tsx'), 'TokensPage')
export const MeetingPage = screen(() => import('../meeting/MeetingPage.tsx'), 'MeetingPage')
export const WallPage = screen(() => import('../meeting/WallPage.tsx'), 'WallPage')
export const LinksPage = screen(() => import('../links/LinksPage.tsx'), 'LinksPage')
export const SharedPage = screen(() => import('../links/SharedPage.tsx'), 'SharedPage')
export const FillInPage = screen(() => import('../fill-in/FillInPage.tsx'), 'FillInPage')
export const ForYouPage = screen(() => import('../for-you/ForYouPage.tsx'), 'ForYouPage')
export const ReportsPage = screen(() => import('../reports/ReportsPage.tsx'), 'ReportsPage')
export const ReportPage = screen(() => import('../reports/ReportPage.tsx'), 'ReportPage')
export const ConditionPage = screen(
  () => import('../installation/ConditionPage.tsx'),
  'ConditionPage',
)
export const LettersPage = screen(() => import('../account/LettersPage.tsx'), 'LettersPage')
export const Door = screen(() => import('../account/Door.tsx'), 'Door')
export const OverviewPage = screen(() => import('../overview/OverviewPage.tsx'), 'OverviewPage')
export const ComparePage = screen(() => import('../compare/ComparePage.tsx'), 'ComparePage')
export const PagesPage = screen(() => import('../pages/PagesPage.tsx'), 'PagesPage')
export const SheetPage = screen(() => import('../pages/SheetPage.tsx'), 'SheetPage')
export const ChartPage = screen(() => import('../chart-page/ChartPage.tsx'), 'ChartPage')
export const HistoryPage = screen(() => import('../history/HistoryPage.tsx'), 'HistoryPage')
export const ValuesPage = screen(() => import('../values/ValuesPage.tsx'), 'ValuesPage')
export const FindingsPage = screen(() => import('../findings/FindingsPage.tsx'), 'FindingsPage')
export const ImprovementsPage = screen(
  () => import('../improvements/ImprovementsPage.tsx'),
  'ImprovementsPage',
)
export const EventsPage = screen(() => import('../events/EventsPage.tsx'), 'EventsPage')
export const DataPage = screen(() => import('../intake/DataPage.tsx'), 'DataPage')
export const LearnPage = screen(() => import('../intake/IntakePage.tsx'), 'LearnPage')
export const MessagesPage = screen(() => import('../messages/MessagesPage.tsx'), 'MessagesPage')
export const FeedPage = screen(() => import('../feeds/FeedPage.tsx'), 'FeedPage')
export const IntakePage = screen(() => import('../intake/IntakePage.tsx'), 'IntakePage')
