// What is drawn, as markup: shapes, dashes, tags and readouts for charts of every kind.
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { layOut } from '../model/geometry.ts'
import { type MarkKind, marksOf } from '../model/markKinds.ts'
import type { Chart, Shown } from '../model/types.ts'
import { chart, signal } from '../sample.test-data.ts'
import { Axes } from './Axes.tsx'
import { Labels } from './Labels.tsx'
import { Limits } from './Limits.tsx'
import { Lane, type LaneActs } from './lane/Lane.tsx'
import { Mark } from './Mark.tsx'
import { Points } from './Points.tsx'
import { readOut, spoken } from './Readout.tsx'
import { Tags } from './Tags.tsx'

const ALL: Shown = { average: true, limits: true, target: true }
const VALUES = [10, 11, 9, 10, 12, 5, 6, 4, 5, 6]
const nothing = () => undefined
const acts: LaneActs = {
  onOpen: nothing,
  onPlaceAt: nothing,
  handles: null,
}

function draw(part: Chart, shown = ALL, width = 1000, kept: Chart | null = null) {
  const geometry = layOut(part, width, 480, shown, kept)
  return {
    geometry,
    limits: (previewed: [number, number] | null = null) =>
      renderToStaticMarkup(
        <svg>
          <title>x</title>
          <Limits chart={part} {...{ geometry, shown, previewed, kept }} />
        </svg>,
      ),
    points: () =>
      renderToStaticMarkup(<Points chart={part} geometry={geometry} marks={marksOf(part)} />),
    labels: () => renderToStaticMarkup(<Labels candidates={[]} chart={part} geometry={geometry} />),
    lane: () =>
      renderToStaticMarkup(<Lane chart={part} geometry={geometry} moving={null} acts={acts} />),
    tags: () =>
      renderToStaticMarkup(
        <Tags
          pull={{ can: () => false, to: nothing }}
          chart={part}
          geometry={geometry}
          shown={shown}
          preview={false}
          onOpen={nothing}
        />,
      ),
    axes: () =>
      renderToStaticMarkup(
        <Axes chart={part} geometry={geometry} onOpen={nothing} onPull={nothing} />,
      ),
  }
}

const count = (markup: string, piece: string | RegExp) =>
  markup.match(typeof piece === 'string' ? new RegExp(piece, 'g') : piece)?.length ?? 0

describe('limits', () => {
  it('draws the levels that are kept thin under those of a preview, and there only', () => {
    const kept = chart(VALUES, 0)
    const { geometry, limits } = draw(chart(VALUES, 5), ALL, 1000, kept)
    expect(limits(null)).not.toContain('data-part="kept"')
    const [, under = ''] = limits([1, 1]).split('data-part="kept"')
    expect(count(under, 'stroke="var\\(--quiet\\)"')).toBe(5)
    const shift = geometry.spans[1]
    expect(under).toContain(
      `<rect x="${shift?.x0}" y="0" width="${(shift?.x1 ?? 0) - (shift?.x0 ?? 0)}"`,
    )
    // The scale has room for both.
    const lowest = Math.min(...kept.segments.map((one) => one.lower ?? 0))
    expect(geometry.y(lowest)).toBeLessThanOrEqual(geometry.values[1])
  })

  it('draws an average and two limits on both charts for each segment, and the target', () => {
    const markup = draw(chart(VALUES, 5)).limits()
    expect(count(markup, '<rect')).toBe(4)
    expect(count(markup, 'stroke-width="2.2"')).toBe(4)
    expect(count(markup, 'stroke-dasharray="7 4"')).toBe(6)
    expect(count(markup, 'stroke-dasharray="10 4 2 4"')).toBe(1)
  })

  it('shows provisional limits in a dash of their own and draws nothing that is not there', () => {
    const part = chart(VALUES, 5)
    const [first, second] = part.segments
    if (!first || !second) throw new Error('the sample has two segments')
    first.firmness = 'provisional'
    Object.assign(second, {
      firmness: 'none',
      upper: null,
      lower: null,
      range_limit: null,
      average_range: null,
    })
    const markup = draw(part).limits()
    expect(count(markup, 'stroke-dasharray="2.5 4"')).toBe(3)
    expect(count(markup, 'stroke-dasharray="7 4"')).toBe(0)
    expect(count(markup, 'fill-opacity="0.5"')).toBe(2)
    expect(count(markup, 'stroke-width="2.2"')).toBe(3)
  })

  it('dots what is not kept yet, from its segment on', () => {
    const markup = draw(chart(VALUES, 5)).limits([1, 1])
    expect(count(markup, 'stroke-dasharray="1 4"')).toBe(5)
    expect(count(markup, 'stroke-dasharray="7 4"')).toBe(3)
    expect(count(markup, 'var\\(--preview-fill\\)')).toBe(2)
  })

  it('leaves out the lines that are switched off', () => {
    const markup = draw(chart(VALUES, 5), { average: false, limits: true, target: false }).limits()
    expect(count(markup, 'stroke-width="2.2"')).toBe(0)
    expect(count(markup, 'stroke-dasharray="10 4 2 4"')).toBe(0)
    expect(count(markup, 'stroke-dasharray="7 4"')).toBe(6)
  })
})

describe('points', () => {
  it('draws a dot for each routine value and range, and a shape for each flagged one', () => {
    const part = chart(VALUES, 5)
    part.signals = [signal('outside_limits', [4]), signal('range_outside_limit', [5])]
    const markup = draw(part).points()
    // Ten values and nine ranges, of which one each is a diamond.
    expect(count(markup, '<circle')).toBe(9 + 8)
    expect(count(markup, 'fill="var\\(--mark-outside\\)"')).toBe(2)
  })

  it('draws set-aside values and the ranges that touch them hollow, with a slash', () => {
    const part = chart(VALUES, 5)
    part.set_aside = [{ position: 3, reason: 'Gale' }]
    part.hollow_ranges = [3, 4]
    const markup = draw(part).points()
    expect(count(markup, 'fill="var\\(--ground\\)"')).toBe(3)
  })

  it('draws a bar along a run, on the far side from the average', () => {
    const part = chart([10, 11, 12, 11, 12, 11, 12, 11, 12, 13], 10)
    part.segments = part.segments.slice(0, 1)
    const drawn = draw({ ...part, signals: [signal('run', [1, 2, 3, 4, 5, 6, 7, 8, 9])] })
    const above = /rx="2" fill="var\(--mark-run\)"/g
    expect(count(drawn.points(), above)).toBeGreaterThan(0)
    const [, y = '0'] = drawn.points().match(/y="([\d.]+)" height="4"/) ?? []
    expect(Number(y)).toBeLessThan(drawn.geometry.y(13))
    const below = draw({ ...part, signals: [signal('run', [0, 1, 2], -1)] })
    const [, low = '0'] = below.points().match(/y="([\d.]+)" height="4"/) ?? []
    expect(Number(low)).toBeGreaterThan(below.geometry.y(10))
  })

  it('leaves dots and labels away where there is no room, but never a signal', () => {
    const many = Array.from({ length: 2000 }, (_, n) => 10 + (n % 7) / 7)
    const part = chart(many, 1000)
    part.signals = [signal('outside_limits', [500]), signal('run', [7, 8, 9, 10, 11, 12, 13, 14])]
    const drawn = draw(part)
    // A run's points are one bar where they are this close, in its color.
    expect(count(drawn.points(), '<circle')).toBe(8)
    expect(count(drawn.points(), 'var\\(--mark-outside\\)')).toBe(1)
    expect(count(drawn.points(), 'var\\(--mark-run\\)')).toBe(8)
    expect(drawn.labels()).toBe('')
  })

  it('tells the kinds of signal apart by shape alone', () => {
    const shapes = (['outside', 'run', 'near', 'extended'] as MarkKind[]).map((kind) =>
      renderToStaticMarkup(<Mark kind={kind} x={0} y={0} plain />),
    )
    const corners = shapes.map((shape) => count(shape, 'L') + (shape.includes('<rect') ? 100 : 1))
    expect(new Set(corners).size).toBe(4)
    expect(shapes.some((shape) => shape.includes('fill='))).toBe(false)
  })
})

describe('labels', () => {
  it('give the value outside the limits, the length of a run and the value set aside', () => {
    const part = chart([10, 11, 9, 10, 25.06, 5, 6, 4, 5, 6], 5)
    part.signals = [signal('outside_limits', [4]), signal('run', [5, 6, 7, 8, 9], -1)]
    part.set_aside = [{ position: 1, reason: '' }]
    const markup = draw(part).labels()
    expect(markup).toContain('>25.1<')
    expect(markup).toContain('>5 in a row below average<')
    expect(markup).toContain('>11.0<')
  })

  it('name only the furthest of a signal with several points', () => {
    const part = chart([10, 11, 20, 30, 22, 10], 6)
    part.points.distance = [0, 1, 10, 20, 12, 0]
    part.segments = part.segments.slice(0, 1)
    part.signals = [signal('outside_limits', [2, 3, 4])]
    const markup = draw(part).labels()
    expect(markup).toContain('>30.0<')
    expect(count(markup, '<text')).toBe(1)
  })
})

describe('tags', () => {
  const names = (markup: string) => [...markup.matchAll(/data-line="(\w+)"/g)].map((m) => m[1])

  it('stand for the lines of the last segment and say what opens', () => {
    const markup = draw(chart(VALUES, 5)).tags()
    expect(names(markup).sort()).toEqual(
      ['average', 'average_range', 'lower', 'range_limit', 'target', 'upper'].sort(),
    )
    expect(markup).toContain('aria-label="Average 5.0\u00a0s: how it was made"')
  })

  it('never cover each other, wherever their lines are', () => {
    const part = chart([5, 5, 5, 5, 5, 5, 5, 5, 5, 500], 5)
    part.kpi.target = 5.1
    const heights = [
      ...draw(part)
        .tags()
        .matchAll(/<rect x="[\d.]+" y="([-\d.]+)" width="[\d.]+" height="\d+" rx/g),
    ].map((m) => Number(m[1]))
    expect(heights.length).toBe(6)
    const sorted = heights.sort((a, b) => a - b)
    sorted.slice(1).forEach((height, n) => {
      expect(height - (sorted[n] ?? 0)).toBeGreaterThanOrEqual(20)
    })
  })

  it('say median where the line is one, and keep to numbers where it is narrow', () => {
    const part = chart(VALUES, 5)
    Object.assign(part.segments[1] ?? {}, { centre: 'median', spread: 'median_range' })
    expect(draw(part).tags()).toContain('>Median<')
    expect(draw(part).tags()).toContain('>Median mR<')
    const narrow = draw(part, ALL, 390).tags()
    expect(narrow).not.toContain('>Median<')
    expect(narrow).toContain('>5.0<')
  })
})

describe('the story lane', () => {
  it('names segments, counts their periods, and has a handle for each shift', () => {
    const part = chart(VALUES, 5)
    Object.assign(part.segments[1] ?? {}, { name: 'New ramp drill', firmness: 'provisional' })
    const markup = draw(part).lane()
    expect(markup).toContain('>All so far<')
    expect(markup).toContain('>New ramp drill<')
    expect(markup).toContain('>5 days, provisional<')
    expect(count(markup, 'role="slider"')).toBe(1)
    expect(markup).toContain('aria-label="Process shift New ramp drill"')
  })

  it('cuts a name that does not fit rather than let it run over', () => {
    const part = chart(VALUES, 8)
    Object.assign(part.segments[1] ?? {}, { name: 'A very long name for a short segment indeed' })
    expect(draw(part, ALL, 700).lane()).toMatch(/>A very[^<]*…</)
  })

  it('has no handle for a shift before the dates shown', () => {
    const part = chart(VALUES, 5)
    part.points = {
      position: [6, 7, 8],
      period: ['2026-03-07', '2026-03-08', '2026-03-09'],
      value: [6, 4, 5],
      moving_range: [1, 2, 1],
      distance: [1, -1, 0],
      numerator: null,
      denominator: null,
      centre: null,
      upper: null,
      lower: null,
    }
    part.shown = [6, 9]
    const drawn = draw(part)
    expect(drawn.geometry.spans.map((span) => span.number)).toEqual([1])
    expect(count(drawn.lane(), 'role="slider"')).toBe(0)
  })
})

describe('the readout', () => {
  const part = chart(VALUES, 5)
  part.signals = [signal('outside_limits', [4]), signal('run', [3, 4])]
  part.set_aside = [{ position: 2, reason: 'Gale, ramp closed' }]

  it('gives value, range, distance, limits and every rule that flags the point', () => {
    const lines = readOut(part, 4)
    expect(lines.period).toBe('5 Mar 2026')
    expect(Object.fromEntries(lines.numbers)).toEqual({
      Value: '12.0\u00a0s',
      'Moving range': '2.0\u00a0s',
      'From the average': '+12.0 from 10.0',
      Limits: '7.3 to 12.7',
    })
    expect(lines.flags.map((flag) => flag.title)).toEqual(['outside_limits', 'run'])
  })

  it('reads the same aloud, with the reason of a value set aside', () => {
    expect(spoken(part, 0)).toContain('Moving range none')
    expect(spoken(part, 2)).toContain('Set aside: Gale, ramp closed')
  })
})

describe('axes', () => {
  it('name the unit, the moving range and the year', () => {
    const markup = draw(chart(VALUES, 5)).axes()
    expect(markup).toContain('>s<')
    expect(markup).toContain('moving range, s')
    expect(markup).toContain('>2026<')
  })

  it('write ticks finer than the decimals where they would read the same', () => {
    const part = chart([10.01, 10.02, 10.03, 10.02, 10.01, 10.02], 3)
    part.segments = []
    part.kpi.target = null
    const texts = [
      ...draw(part)
        .axes()
        .matchAll(/text-anchor="end">([\d.]+)</g),
    ].map((m) => m[1])
    // The X chart's ticks come first; the moving range chart's begin at zero.
    const values = texts.slice(
      0,
      texts.findIndex((text) => Number(text) === 0),
    )
    expect(values.length).toBeGreaterThan(2)
    expect(new Set(values).size).toBe(values.length)
  })
})
