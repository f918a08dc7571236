// Every query by its key, and what each act renews. No other module spells a key.
import type { QueryClient } from '@tanstack/react-query'

export interface KpiPath {
  workspace: string
  kpi: string
}

type Key = readonly unknown[]

export const keys = {
  session: ['session'] as Key,
  vocabulary: ['vocabulary'] as Key,
  // Of all workspaces of a person.
  news: ['news'] as Key,
  browsers: ['browsers'] as Key,
  secondStep: ['second-step'] as Key,
  elsewhere: ['elsewhere'] as Key,
  letters: ['letters'] as Key,
  condition: (...of: unknown[]): Key => ['condition', ...of],
  room: (workspace: string): Key => ['room', workspace],
  invitation: (secret: string): Key => ['invitation', secret],
  reports: (workspace: string, ...wanted: unknown[]): Key => ['reports', workspace, ...wanted],
  links: (workspace: string): Key => ['links', workspace],
  shared: (secret: string, key: string): Key => ['shared', secret, key],
  // Renewed with the findings, of which it is made.
  forYou: (workspace: string): Key => ['findings', workspace, 'for-you'],
  members: (workspace: string): Key => ['members', workspace],
  people: (workspace: string): Key => ['people', workspace],
  record: (workspace: string, ...stretch: unknown[]): Key => ['record', workspace, ...stretch],
  tokens: (workspace: string): Key => ['tokens', workspace],
  kpis: (workspace: string): Key => ['kpis', workspace],
  favorites: (workspace: string): Key => ['favorites', workspace],
  charts: (workspace: string): Key => ['chart', workspace],
  chart: ({ workspace, kpi }: KpiPath, view?: unknown): Key =>
    view ? ['chart', workspace, kpi, view] : ['chart', workspace, kpi],
  preview: ({ workspace, kpi }: KpiPath, view: unknown, settings: unknown): Key => [
    'preview',
    workspace,
    kpi,
    view,
    settings,
  ],
  falseAlarms: ({ workspace, kpi }: KpiPath, rules: unknown, runLength: number): Key => [
    'false-alarms',
    workspace,
    kpi,
    rules,
    runLength,
  ],
  howSoon: ({ workspace, kpi }: KpiPath, ...asked: unknown[]): Key => [
    'how-soon',
    workspace,
    kpi,
    ...asked,
  ],
  offers: ({ workspace, kpi }: KpiPath, ...of: unknown[]): Key => ['offers', workspace, kpi, ...of],
  reach: ({ workspace, kpi }: KpiPath, ...target: unknown[]): Key => [
    'reach',
    workspace,
    kpi,
    ...target,
  ],
  lanes: (workspace: string): Key => ['lane', workspace],
  lane: ({ workspace, kpi }: KpiPath, ...shown: unknown[]): Key => [
    'lane',
    workspace,
    kpi,
    ...shown,
  ],
  states: ({ workspace, kpi }: KpiPath, ...compared: unknown[]): Key => [
    'states',
    workspace,
    kpi,
    ...compared,
  ],
  summaries: ({ workspace, kpi }: KpiPath, ...spans: unknown[]): Key => [
    'summaries',
    workspace,
    kpi,
    ...spans,
  ],
  buildUp: ({ workspace, kpi }: KpiPath, view: unknown): Key => [
    'chart',
    workspace,
    kpi,
    'build-up',
    view,
  ],
  contributions: ({ workspace, kpi }: KpiPath, asked: unknown): Key => [
    'chart',
    workspace,
    kpi,
    'contributions',
    asked,
  ],
  derivedPreview: ({ workspace, kpi }: KpiPath, asked: unknown): Key => [
    'chart',
    workspace,
    kpi,
    'made',
    asked,
  ],
  patterns: ({ workspace, kpi }: KpiPath): Key => ['patterns', workspace, kpi],
  compared: (workspace: string, ...wanted: unknown[]): Key => ['compared', workspace, ...wanted],
  pages: (workspace: string, ...wanted: unknown[]): Key => ['pages', workspace, ...wanted],
  segmentsCompared: ({ workspace, kpi }: KpiPath, ...compared: unknown[]): Key => [
    'segments-compared',
    workspace,
    kpi,
    ...compared,
  ],
  acts: ({ workspace, kpi }: KpiPath, ...before: unknown[]): Key => [
    'acts',
    workspace,
    kpi,
    ...before,
  ],
  everyValue: (workspace: string): Key => ['values', workspace],
  values: ({ workspace, kpi }: KpiPath, ...stretch: unknown[]): Key => [
    'values',
    workspace,
    kpi,
    ...stretch,
  ],
  versions: ({ workspace, kpi }: KpiPath, ...value: unknown[]): Key => [
    'versions',
    workspace,
    kpi,
    ...value,
  ],
  due: (workspace: string, ...which: unknown[]): Key => ['due', workspace, ...which],
  // What was kept with a KPI may have changed with its values.
  checks: (workspace: string, typed: unknown): Key => ['due', workspace, 'checks', typed],
  overview: (workspace: string, ...wanted: unknown[]): Key => ['overview', workspace, ...wanted],
  together: (workspace: string, ...wanted: unknown[]): Key => ['together', workspace, ...wanted],
  findings: (workspace: string): Key => ['findings', workspace],
  newFindings: (workspace: string): Key => ['findings', workspace, 'new'],
  findingsLog: (workspace: string, wanted: unknown): Key => ['findings', workspace, 'log', wanted],
  findingsOf: ({ workspace, kpi }: KpiPath): Key => ['findings', workspace, 'of', kpi],
  finding: (workspace: string, number: number, ...within: unknown[]): Key => [
    'findings',
    workspace,
    'one',
    number,
    ...within,
  ],
  improvements: (workspace: string, ...which: unknown[]): Key => [
    'improvements',
    workspace,
    ...which,
  ],
  events: (workspace: string, ...page: unknown[]): Key => ['events', workspace, ...page],
  imports: (workspace: string, ...page: unknown[]): Key => ['imports', workspace, ...page],
  import: (workspace: string, number: number | null): Key => ['imports', workspace, 'one', number],
  changes: (workspace: string): Key => ['changes', workspace],
  messages: (workspace: string, ...which: unknown[]): Key => ['messages', workspace, ...which],
  webhooks: (workspace: string): Key => ['webhooks', workspace],
  feeds: (workspace: string): Key => ['feeds', workspace],
  feed: (workspace: string, number: number): Key => ['feeds', workspace, number],
  // What a schedule is in words never changes, but for its next times.
  when: (workspace: string, ...asked: unknown[]): Key => ['when', workspace, ...asked],
  held: (workspace: string, feed: number): Key => ['held', workspace, feed],
  keptReadings: (workspace: string): Key => ['kept-readings', workspace],
  beingRead: (workspace: string, upload: number | null): Key => ['being-read', workspace, upload],
  reading: (workspace: string, upload: number | null, ...how: unknown[]): Key => [
    'reading',
    workspace,
    upload,
    ...how,
  ],
}

type Renew = (queries: QueryClient, workspace: string) => Promise<unknown>

const renewing =
  (...parts: ((workspace: string) => Key)[]): Renew =>
  (queries, workspace) =>
    Promise.all(parts.map((key) => queries.invalidateQueries({ queryKey: key(workspace) })))

/** What shows several KPIs at once. */
const sideBySide = [keys.overview, keys.together, keys.compared, keys.improvements, keys.due]

/** What is asked for anew after an act of each kind. */
export const renew = {
  /** An act on a chart; its new state is at hand, but one taken back may have been on anything. */
  afterAct: (queries: QueryClient, path: KpiPath) => {
    const ofChart = [
      keys.values,
      keys.versions,
      keys.lane,
      keys.acts,
      keys.segmentsCompared,
      keys.patterns,
      keys.howSoon,
      keys.reach,
      keys.summaries,
      keys.states,
    ]
    for (const key of ofChart) queries.invalidateQueries({ queryKey: key(path) })
    const { workspace } = path
    return renewing(
      keys.kpis,
      keys.imports,
      keys.events,
      keys.findings,
      ...sideBySide,
    )(queries, workspace)
  },
  /** An act that was refused, since the chart has changed meanwhile. */
  afterRefusal: (queries: QueryClient, path: KpiPath) =>
    Promise.all(
      [keys.chart(path), keys.lane(path)].map((queryKey) =>
        queries.invalidateQueries({ queryKey }),
      ),
    ),
  /** Values written, all there by now: an undo right after names the newest revision. */
  afterValues: (queries: QueryClient, path: KpiPath) =>
    Promise.all(
      [
        keys.values(path),
        keys.chart(path),
        keys.versions(path),
        keys.kpis(path.workspace),
        keys.findings(path.workspace),
        ...sideBySide.map((key) => key(path.workspace)),
      ].map((queryKey) => queries.invalidateQueries({ queryKey })),
    ),
  afterDeletion: renewing(keys.kpis, keys.findings, keys.events, ...sideBySide),
  afterImprovement: renewing(keys.improvements, keys.compared, keys.findings),
  afterFinding: renewing(keys.findings, keys.kpis, keys.charts, ...sideBySide),
  afterEvent: renewing(keys.events, keys.lanes, keys.findings, keys.together),
  /** Others, or time, have changed something: all that shows what is kept. */
  afterNews: renewing(
    keys.imports,
    keys.feeds,
    keys.kpis,
    keys.charts,
    keys.everyValue,
    keys.findings,
    keys.events,
    keys.lanes,
    keys.pages,
    keys.messages,
    ...sideBySide,
  ),
  afterImport: renewing(
    keys.imports,
    keys.feeds,
    keys.kpis,
    keys.charts,
    keys.everyValue,
    keys.findings,
    ...sideBySide,
  ),
}
