// What happened, where the process may have shifted, and the window that limits come from.
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { days } from '../../../shared/writing.ts'
import { layOut } from '../../model/geometry.ts'
import { chart } from '../../sample.test-data.ts'
import { Baseline } from '../Baseline.tsx'
import { Limits } from '../Limits.tsx'
import { type Candidate, type Pin, Story } from './Story.tsx'

const nothing = () => undefined
const VALUES = Array.from({ length: 60 }, (_, n) => 10 + (n % 4))
const shown = { average: true, limits: true, target: true }
const part = chart(VALUES, 30)
const geometry = layOut(part, 1000, 500, shown)

const event = (id: number, first: string, title: string, last = first): Pin['events'][number] => ({
  id,
  title,
  kind: 'change',
  text: '',
  first,
  last,
  everywhere: false,
  kpis: ['ramp'],
  version: 1,
})
const pin = (...events: Pin['events']): Pin => ({
  first: events[0]?.first ?? '',
  last: events.at(-1)?.last ?? '',
  count: events.length,
  events,
})
const candidate = (position: number, more: Partial<Candidate> = {}): Candidate => ({
  period: part.points.period[position] ?? '',
  label: `day ${position}`,
  position,
  first: position - 2,
  last: position + 3,
  evidence: true,
  run: false,
  support: 9,
  likely: '',
  text: '',
  ...more,
})

const draw = (pins: Pin[], candidates: Candidate[] = []) =>
  renderToStaticMarkup(
    <svg>
      <title>chart</title>
      <Story
        {...{ pins, candidates, geometry }}
        onOpenPin={nothing}
        onMovePin={nothing}
        onOpenCandidate={nothing}
      />
    </svg>,
  )
const times = (markup: string, text: string) => markup.split(text).length - 1

describe('pins', () => {
  const gale = event(1, '2026-03-05', 'Gale')

  it('are named where there is room until the next one, and told by label anyway', () => {
    const label = 'aria-label="Gale, 5 Mar 2026. Open."'
    const far = draw([pin(gale), pin(event(2, '2026-04-10', 'Drill'))])
    expect(far).toContain('>Gale</text>')
    expect(far).toContain(label)
    const near = draw([pin(gale), pin(event(2, '2026-03-07', 'Drill'))])
    expect(near).not.toContain('>Gale</text>')
    expect(near).toContain(label)
  })

  it('say how many they stand for where several share one', () => {
    const two = draw([pin(gale, event(2, '2026-03-06', 'Drill'))])
    expect(two).toContain('>2 events</text>')
    expect(two).toContain('data-kind="several"')
    expect(two).toContain('aria-label="2 events, 5 Mar 2026 to 6 Mar 2026. Open."')
  })

  it('draw a span from their first day to their last, within the plot', () => {
    const long = draw([pin(event(1, '2026-03-05', 'Timetable', '2026-12-31'))])
    const [, end] = long.match(/x2="([\d.]+)"/) ?? []
    expect(Number(end)).toBeCloseTo(geometry.right)
    expect(times(draw([pin(gale)]), '<line')).toBe(0)
  })

  it('write their days once where first and last are one', () => {
    expect(days('2026-09-07', '2026-09-07')).toBe('7 Sep 2026')
    expect(days('2026-05-23', '2026-09-13')).toBe('23 May 2026 to 13 Sep 2026')
  })
})

describe('candidates', () => {
  it('show the range where the change likely began', () => {
    const markup = draw([], [candidate(20)])
    const [, from, to] = markup.match(/x1="([\d.]+)" x2="([\d.]+)"/) ?? []
    const x = (index: number) => geometry.x(geometry.times[index] ?? 0)
    expect(Number(from)).toBeCloseTo(x(18) - geometry.spacing / 2)
    expect(Number(to)).toBeCloseTo(x(23) + geometry.spacing / 2)
    expect(markup).toContain('aria-label="Perhaps a shift from day 20. Open."')
  })

  it('are small and without a range where the values do not say when', () => {
    const markup = draw([], [candidate(20, { evidence: false })])
    expect(times(markup, '<line')).toBe(0)
    expect(times(markup, '</text>')).toBe(0)
  })

  it('are left out where their value is not drawn', () => {
    expect(times(draw([], [candidate(500)]), 'role="button"')).toBe(0)
  })
})

describe('a baseline', () => {
  it('has a handle at each end that says where it is and how far it can go', () => {
    const markup = renderToStaticMarkup(
      <svg>
        <title>chart</title>
        <Baseline
          chart={part}
          geometry={geometry}
          window={{ first: 4, last: 12 }}
          bounds={{ first: 0, last: 29 }}
          onChange={nothing}
        />
      </svg>,
    )
    expect(times(markup, 'role="slider"')).toBe(2)
    expect(markup).toContain('aria-valuetext="5 Mar"')
    expect(markup).toContain('aria-valuetext="13 Mar"')
    expect(times(markup, 'aria-valuemax="29"')).toBe(2)
  })
})

describe('limits that follow a trend', () => {
  const leaning = chart(VALUES, 30)
  const [, second] = leaning.segments
  if (second) second.follows = 'trend'
  const centre = VALUES.map((_, n) => 10 + n * 0.1)
  Object.assign(leaning.points, {
    centre,
    upper: centre.map((level) => level + 3),
    lower: centre.map((level) => level - 3),
  })
  const laid = layOut(leaning, 1000, 500, shown)
  const markup = renderToStaticMarkup(
    <svg>
      <title>chart</title>
      <Limits chart={leaning} geometry={laid} shown={shown} previewed={null} kept={null} />
    </svg>,
  )

  it('are drawn point by point in their own segment, and as levels in the others', () => {
    const [, path = ''] = markup.match(/<path d="([^"]*)" data-part="upper"/) ?? []
    expect(path.match(/[ML]/g)?.length).toBe(30)
    const [, x, y] = path.match(/^M([\d.]+),([\d.]+)/) ?? []
    expect(Number(x)).toBeCloseTo(laid.x(laid.times[30] ?? 0), 2)
    expect(Number(y)).toBeCloseTo(laid.y(10 + 30 * 0.1 + 3), 2)
    // The first segment has three levels on the X chart; both have two on the mR chart.
    expect(times(markup, 'translateY')).toBe(3 + 2 + 2)
  })
})
