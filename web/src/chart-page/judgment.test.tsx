// The bars and cards of judging a chart: trials, baselines, candidates, patterns, comparisons.
import { MantineProvider } from '@mantine/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import type { ReactElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { MemoryRouter } from 'react-router'
import { describe, expect, it } from 'vitest'
import { keys } from '../api/keys.ts'
import { Baseline } from '../chart/layers/Baseline.tsx'
import { layOut } from '../chart/model/geometry.ts'
import { chart, segment, signal, vocabulary } from '../chart/sample.test-data.ts'
import { BaselineBar } from './bars/BaselineBar.tsx'
import { TrialBar } from './bars/TrialBar.tsx'
import { Compare } from './below/Compare.tsx'
import { Findings } from './below/FindingCards.tsx'
import { PointActs } from './below/PointActs.tsx'
import { EventCard } from './cards/EventCard.tsx'
import { CandidateCard, PinCard } from './cards/PinCard.tsx'
import { SegmentCard } from './cards/SegmentCard.tsx'
import { ValueCard } from './cards/ValueCard.tsx'
import { PageHead } from './head/PageHead.tsx'
import { windowOf } from './session/drafts/baseline.ts'
import { eventAt } from './session/drafts/eventDraft.ts'

const nothing = () => undefined
const path = { workspace: 'marrowick', kpi: 'ramp' }
const part = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)

function draw(one: ReactElement, known: [unknown[], unknown][] = []) {
  const client = new QueryClient()
  client.setQueryData(keys.vocabulary, vocabulary)
  for (const [key, data] of known) client.setQueryData(key, data)
  return renderToStaticMarkup(
    <QueryClientProvider client={client}>
      <MantineProvider env="test">
        <MemoryRouter>{one}</MemoryRouter>
      </MantineProvider>
    </QueryClientProvider>,
  )
}
const words = (markup: string) =>
  markup.replace(/<style[\s\S]*?<\/style>/g, '').replace(/<[^>]+>/g, ' ')
const say = (one: ReactElement, known: [unknown[], unknown][] = []) => words(draw(one, known))

describe('a trial', () => {
  const tried = { ...part, segments: [segment(0, 5, 10), segment(5, 10, 4)], finding_count: 3 }
  const bar = (changed: boolean, real = false) => (
    <TrialBar
      mayKeep
      {...{ changed, real }}
      saved={part}
      tried={tried}
      saving={false}
      onReal={nothing}
      onKeep={nothing}
      onDiscard={nothing}
    />
  )

  it('says what differs from the chart as it is, and can be looked away from', () => {
    const said = say(bar(true))
    expect(said).toContain('Trial: nothing here is kept')
    expect(said).toContain('Average 5.0 → 4.0, limits 2.3 to 7.7 → 1.3 to 6.7, 0 → 3 findings')
    expect(said).toContain('Show the real chart')
    expect(say(bar(true, true))).toContain('Show the trial')
  })

  it('has nothing to keep before anything is changed', () => {
    expect(say(bar(false))).toContain('Change a value, a segment, a baseline, a rule or the target')
    expect(draw(bar(false)).match(/disabled=""/g)?.length).toBe(2)
  })

  it('asks what a point could have been', () => {
    const said = say(<ValueCard chart={part} position={3} onTry={nothing} />)
    expect(said).toContain('What if 4 Mar 2026 had another value?')
  })
})

describe('a baseline', () => {
  const now = { first: 0, last: 9, first_period: '2026-03-01', last_period: '2026-03-10' }
  const bar = (first: number, last: number, known = true) => (
    <BaselineBar
      chart={part}
      preview={known ? part : null}
      draft={{ start: null, first, last, now }}
      saving={false}
      onKeep={nothing}
      onCancel={nothing}
    />
  )

  it('says what limits it gives, and how many values it needs', () => {
    expect(say(bar(0, 4))).toContain('Limits from 1 Mar to 5 Mar, 5 days')
    expect(say(bar(0, 4))).toContain('Average 10.0, limits 7.3 to 12.7')
    expect(say(bar(0, 4, false))).toContain('Recalculating…')
    expect(say(bar(0, 3))).toContain('A baseline needs 5 values; this one has 4.')
    expect(draw(bar(0, 3))).toContain('disabled=""')
  })

  it('keeps an end that lies outside the dates shown', () => {
    const zoomed = structuredClone(part)
    for (const column of Object.values(zoomed.points)) column?.splice(0, 3)
    const draft = { start: null, first: 0, last: 6, now }
    expect(windowOf(zoomed, draft)).toEqual(['2026-03-01', '2026-03-07'])
    const drawn = draw(
      <svg>
        <title>x</title>
        <Baseline
          chart={zoomed}
          geometry={layOut(zoomed, 1000, 480, { average: true, limits: true, target: true })}
          window={{ first: 0, last: 6 }}
          bounds={{ first: 0, last: 9 }}
          onChange={nothing}
        />
      </svg>,
    )
    const [first = '', last = ''] = drawn.match(/aria-valuetext="[^"]*"/g) ?? []
    expect(first).toContain('not in the dates shown')
    expect(last).toContain('7 Mar')
  })

  it('is told in the card of its segment, with what firmer limits would be', () => {
    const held = structuredClone(part)
    Object.assign(held.segments[0] ?? {}, {
      window: ['2026-03-01', '2026-03-05'],
      firmer: '18 days are there now, enough for firm limits.',
    })
    const card = (one: typeof part) =>
      say(
        <SegmentCard
          chart={one}
          path={path}
          number={0}
          saving={false}
          onSave={nothing}
          onRemove={nothing}
          onBaseline={nothing}
        />,
      )
    expect(card(held)).toContain('1 Mar to 5 Mar')
    expect(card(held)).toContain('enough for firm limits')
    expect(card(held)).toContain('Use all values')
    expect(card(part)).toContain('all its values, and move with new ones')
    expect(card(part)).toContain('Hold as they are')
  })
})

describe('what is proposed', () => {
  const acts = {
    path, saved: false, at: null, opened: null, onLight: nothing, onOpen: nothing,
    onSelect: nothing, onReopen: nothing, onFollow: nothing, onMedian: nothing, onFirm: nothing,
    farOff: null,
  } // biome-ignore format: nothing

  it('stands beside the findings with its evidence', () => {
    const proposed = structuredClone(part)
    proposed.patterns = [
      { follows: 'trend', proposed: true, title: 'A trend', text: 'R² 0.70', share: 0.7 },
    ]
    Object.assign(proposed.segments[1] ?? {}, { name: 'Drill', firmer: '18 days are there now.' })
    const said = say(<Findings chart={proposed} {...acts} />)
    expect(said).toMatch(/A trend\s*\?\s+R² 0.70\s+Let the limits follow it/)
    expect(said).toMatch(/Firmer limits\s+for Drill\s*\?\s+18 days are there now./)
  })

  it('is weighed in the card of the last segment, and told where it does not stand out', () => {
    const trend = {
      follows: 'trend',
      proposed: true,
      title: 'A trend',
      text: 'R² 0.70',
      share: 0.7,
    }
    const month = { ...trend, follows: 'month', proposed: false, title: 'A season', text: 'No' }
    const card = (follows: 'level' | 'month') => {
      const one = structuredClone(part)
      Object.assign(one.segments[1] ?? {}, { follows })
      return say(
        <SegmentCard
          chart={one}
          path={path}
          number={1}
          saving={false}
          onSave={nothing}
          onRemove={nothing}
          onBaseline={nothing}
        />,
        [
          [
            ['patterns', 'marrowick', 'ramp'],
            [trend, month],
          ],
        ],
      )
    }
    expect(card('level')).toContain('A trend')
    expect(card('level')).not.toContain('does not stand out')
    expect(card('month')).toMatch(/A season\s+does not stand out/)
  })

  it('of a shift is reviewed or dismissed with a reason', () => {
    const card = (
      <CandidateCard text="9 weeks" saving={false} onReview={nothing} onDismiss={nothing} />
    )
    expect(say(card)).toMatch(/Has the process shifted here\?\s+9 weeks\s+Review this shift/)
    expect(draw(card)).toMatch(/<input[^>]*required/)
  })
})

describe('findings on record', () => {
  it('stand with their state on the card of their signal, and those that went below', () => {
    const flagged = structuredClone(part)
    flagged.signals = [{ ...signal('outside_limits', [8]), title: 'Above the upper limit' }]
    flagged.happenings = [
      {
        signals: [0], first: '2026-03-09', last: '2026-03-09',
        lead_first: '2026-03-09', lead_last: '2026-03-09', position: 8, label: '9 Mar',
        mark: 'outside',
        title: 'Above the upper limit', text: '', evidence: [],
      }, // biome-ignore format: one row
    ]
    flagged.finding_count = 1
    const known = {
      id: 1, kpi: 'ramp', kpi_name: 'Ramp cycle', rule: 'outside_limits', side: 1,
      first: '2026-03-09', last: '2026-03-09', label: '9 Mar', points: 1,
      title: 'Above the upper limit', text: '', favorable: false, state: 'looking',
      presence: 'present', cause: 'Relief crew', action: '', person: 'isla',
      person_name: 'Isla Corrie', due: null, version: 1, evidence: [], is_new: false,
    } // biome-ignore format: one row
    const gone = { ...known, id: 2, presence: 'gone', state: 'shift', title: 'Run of 9' }
    const said = say(
      <Findings
        path={path}
        chart={flagged}
        saved
        at={8}
        opened={null}
        onLight={nothing}
        onOpen={nothing}
        onSelect={nothing}
        onReopen={nothing}
        onFollow={nothing}
        onMedian={nothing}
        onFirm={nothing}
        farOff={null}
      />,
      [
        [
          ['findings', 'marrowick', 'of', 'ramp'],
          [known, gone],
        ],
      ],
    )
    expect(said).toContain('Relief crew, with Isla Corrie')
    expect(said).toContain('Being looked into')
    expect(said).toMatch(/Findings that signal no more,\s+1[\s\S]*Run of 9/)
  })
})

describe('a comparison', () => {
  it('can be asked of any two segments and any date where the chart is the one that is kept', () => {
    const compare = (asking: boolean, one = part) =>
      draw(<Compare path={path} chart={one} asking={asking} />)
    expect(compare(true)).toContain('Any date to compare before and after')
    expect(words(compare(true))).toContain('There is no shift yet.')
    expect(words(compare(false)).trim()).toBe('')
    const whole = { ...part, segments: [segment(0, 10, 8)] }
    expect(compare(true, whole)).not.toContain('aria-label="Before"')
  })
})

describe('an event', () => {
  const card = (more: object = {}) => (
    <EventCard
      workspace="marrowick"
      draft={{ ...eventAt('2026-03-05', 'ramp'), ...more }}
      saving={false}
      onSave={nothing}
      onRemove={nothing}
    />
  )

  it('needs a title, days in order and a KPI to be told with', () => {
    const submit = (markup: string) => markup.match(/<button[^>]*type="submit"[^>]*>/)?.[0] ?? ''
    expect(submit(draw(card()))).toContain('disabled')
    expect(submit(draw(card({ title: 'Gale' })))).not.toContain('disabled')
    expect(say(card({ title: 'Gale', last: '2026-03-01' }))).toContain('Before the first day.')
    expect(say(card({ title: 'Gale', kpis: [] }))).toContain('Choose at least one.')
    expect(say(card({ title: 'Gale', kpis: [], everywhere: true }))).not.toContain('Choose at')
  })

  it('can be removed once it is there', () => {
    const as = (role: string) =>
      [[keys.session, { workspaces: [{ slug: '', name: '', role }] }]] as [unknown[], unknown][]
    expect(say(card(), as('editor'))).not.toContain('Remove')
    expect(say(card({ id: 4, title: 'Gale' }), as('editor'))).toContain('Save event')
    expect(say(card({ id: 4, title: 'Gale' }), as('contributor'))).toContain('Remove')
    expect(say(card({ id: 4, title: 'Gale' }), as('viewer'))).not.toContain('Remove')
  })

  it('is chosen among those that share its pin, with how many are not told', () => {
    const events = [{ ...eventAt('2026-03-05', 'ramp'), id: 1, title: 'Gale' }]
    const pin = { first: '2026-03-05', last: '2026-03-05', count: 12, events }
    const said = say(<PinCard pin={pin} onChoose={nothing} />)
    expect(said).toMatch(/Gale\s+5 Mar 2026/)
    expect(said).toMatch(/and\s+11\s+more/)
  })
})

describe('the acts of a page', () => {
  it('are those of its point, and of a trial where one goes on', () => {
    const point = (trial: boolean) =>
      say(
        <PointActs
          aside={trial}
          onShift={nothing}
          onAside={nothing}
          onSplit={nothing}
          onEvent={trial ? null : nothing}
          onValue={trial ? nothing : null}
        />,
      )
    expect(point(false)).toContain('Add an event here')
    expect(point(false)).toContain('Set this point aside')
    expect(point(true)).toContain('Try another value')
    expect(point(true)).toContain('Put this point back')
  })

  it('say what undo and redo would do', () => {
    const head = draw(
      <PageHead
        chart={part}
        base="/marrowick/charts/ramp"
        undo={{ does: 'Changed the target', act: nothing }}
        redo={{ does: null, act: nothing }}
        onSetUp={nothing}
        onDelete={null}
        name="Ramp cycle"
        beside={null}
        onTry={nothing}
        atHand={null}
        exporting={null}
        onAddToPage={nothing}
        onMake={nothing}
        may={{ role: 'owner', add: true, edit: true, own: true }}
      />,
    )
    expect(head).toContain('aria-label="Undo: Changed the target"')
    expect(head).toMatch(
      /<button[^>]*disabled=""[^>]*aria-label="Redo"|aria-label="Redo"[^>]*disabled=""/,
    )
    expect(head).toContain('href="/marrowick/charts/ramp/values"')
  })
})
