// Made-up charts for tests.
import type { Vocabulary } from '../api/vocabulary.ts'
import type { Chart, Line, Segment, Signal } from './model/types.ts'

const dayAt = (position: number) =>
  new Date(Date.UTC(2026, 2, 1 + position)).toISOString().slice(0, 10)

export function segment(first: number, stop: number, average: number): Segment {
  return {
    start: first ? `2026-03-${first}` : null,
    name: '',
    what_changed: '',
    centre: 'mean',
    spread: 'mean_range',
    window: null,
    follows: 'level',
    firmer: null,
    label: '',
    first,
    stop,
    n: stop - first,
    average,
    average_range: 1,
    upper: average + 2.66,
    lower: average - 2.66,
    upper_clipped: false,
    lower_clipped: false,
    range_limit: 3.268,
    sigma: 0.887,
    firmness: 'firm',
    made: '',
    basis: {
      first,
      last: stop - 1,
      first_period: dayAt(first),
      last_period: dayAt(stop - 1),
    },
    advice: '',
    review: {},
  }
}

export function chart(values: number[], cut: number): Chart {
  const position = values.map((_, n) => n)
  return {
    kpi: {
      slug: 'ramp',
      name: 'Ramp cycle',
      group: '',
      unit: 's',
      decimals: 1,
      direction: 'lower',
      grain: 'day',
      stored_grain: 'day',
      grains: ['day'],
      breakdowns: [],
      aggregation: 'mean',
      first_weekday: 0,
      first_month: 1,
      time_zone: 'UTC',
      floor: null,
      ceiling: null,
      target: 40,
      rules: [],
      run_length: 8,
      revision: 1,
      numbers: { unit: 's', power: 0, decimals: 1, level_decimals: 1 },
      source: null,
      shown_in: 'automatic',
      drawn_as: 'points',
      raises: 'everything',
      target_high: null,
      axis_low: null,
      axis_high: null,
      value_labels: 'signals',
      dots: true,
      faint: false,
    },
    count: values.length,
    basis: 'daily',
    remarks: [],
    incomplete: null,
    next: null,
    targets: null,
    targets_high: null,
    target_now: 40,
    target_high_now: null,
    off_target: [],
    lines: [],
    bands: [],
    views: [],
    strip: null,
    axis: { low: null, high: null, below: 0, above: 0, note: '' },
    notes: [],
    gaps: [],
    shown: [0, values.length],
    points: {
      position,
      period: position.map((n) => new Date(Date.UTC(2026, 2, n + 1)).toISOString().slice(0, 10)),
      value: values,
      moving_range: values.map((value, n) => (n ? Math.abs(value - (values[n - 1] ?? 0)) : null)),
      distance: values,
      centre: null,
      upper: null,
      lower: null,
    },
    segments: [segment(0, cut, 10), segment(cut, values.length, 5)],
    set_aside: [],
    hollow_ranges: [],
    signals: [],
    happenings: [],
    finding_count: 0,
    sentence: { headline: '', detail: '' },
    comparison: null,
    doubts: [],
    kept_limits: [],
    candidates: [],
    patterns: [],
    nature: null,
  }
}

/** A line at one level, made from what is shown. */
export function line(key: string, level: number, changes: Partial<Line> = {}): Line {
  return {
    key,
    made: 'mean',
    name: '',
    number: 0,
    factor: 1,
    amount: 0,
    length: 4,
    per: 'period',
    deviations: 2,
    color: 'indigo',
    dash: 'dashed',
    weight: 'thin',
    shows: 'both',
    decimals: null,
    hidden: false,
    in_front: false,
    shaded: false,
    says: 'mean',
    over: 'of the 10 days shown',
    level,
    text: level.toFixed(1),
    amount_text: `${level.toFixed(1)} s`,
    apart: false,
    course: null,
    apart_from: null,
    low: null,
    high: null,
    note: '',
    instead: null,
    above: null,
    under: null,
    ...changes,
  }
}

const MARKS: Partial<Record<Signal['rule'], Signal['mark']>> = {
  outside_limits: 'outside',
  range_outside_limit: 'outside',
  run: 'run',
  near_limit: 'near',
}

export function signal(
  rule: Chart['signals'][number]['rule'],
  points: number[],
  side: 1 | -1 = 1,
): Chart['signals'][number] {
  return {
    rule,
    mark: MARKS[rule] ?? 'extended',
    judges: rule === 'range_outside_limit' ? 'ranges' : 'values',
    points,
    count: points.length,
    stands_for: 1,
    side,
    segment: 0,
    label: '',
    title: rule,
    text: 'as judged',
    level: null,
    sigmas: null,
    favorable: null,
  }
}

/** What the server says of rules and constants. */
export const vocabulary: Vocabulary = {
  rules: [
    {
      id: 'outside_limits',
      name: 'Outside the limits',
      true_when: 'a value is beyond a natural process limit',
      mark: 'outside',
      extended: false,
    },
  ],
  run_lengths: [7, 8, 9],
  values_for_limits: 5,
  values_for_firm_limits: 17,
  follows: [
    { id: 'level', name: 'Nothing: one level', grains: ['hour', 'day', 'week', 'month'] },
    { id: 'trend', name: 'A trend', grains: ['hour', 'day', 'week', 'month'] },
    { id: 'weekday', name: 'The day of the week', grains: ['hour', 'day'] },
    { id: 'month', name: 'The month of the year', grains: ['hour', 'day', 'week', 'month'] },
  ],
  aggregations: [{ id: 'mean', name: 'their mean' }],
  values_page: 200,
  list_page: 100,
}
