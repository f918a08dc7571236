// The words of the trade, each in two sentences about the very chart that is open. Pure.
import type { Chart } from '../../../chart/model/types.ts'
import { levelAmountText } from '../../../shared/numbers.ts'
import { counted, longPeriod } from '../../../shared/writing.ts'

export type Term =
  | 'average'
  | 'natural-process-limits'
  | 'moving-range'
  | 'run'
  | 'segment'
  | 'baseline'
  | 'predictable'

/** In the order in which a newcomer needs them. */
export const TERMS: Record<Term, string> = {
  average: 'Average',
  'moving-range': 'Moving range',
  'natural-process-limits': 'Natural process limits',
  predictable: 'Predictable',
  run: 'Run',
  segment: 'Segment',
  baseline: 'Baseline',
}

/** What a word means, and what it is of here. */
export function meaningOf(term: Term, chart: Chart): [string, string] {
  const segment = chart.segments.at(-1)
  const level = (value: number) => levelAmountText(value, chart.kpi.numbers)
  const { average, lower, upper, average_range, range_limit } = segment ?? {}
  const follows = segment !== undefined && segment.follows !== 'level'
  switch (term) {
    case 'average':
      return [
        'The sum of the values of a segment by how many there are; values set aside take no part.',
        average == null
          ? 'Here there is none yet.'
          : segment?.centre === 'median'
            ? `Here the middle value is taken in its place, ${level(average)}.`
            : `Here it is ${level(average)}, of ${counted(segment?.n ?? 0, 'value')}.`,
      ]
    case 'moving-range':
      return [
        'How much a value differs from the one before, without its sign.',
        average_range == null
          ? 'Here there is none yet: it takes two values.'
          : `Here it is ${level(average_range)} on average${
              range_limit == null
                ? ''
                : `, and a step of more than ${level(range_limit)} stands out`
            }.`,
      ]
    case 'natural-process-limits':
      return [
        'Between them lies nearly every value while nothing changes: they say what the process does, not what anybody wants of it.',
        follows
          ? 'Here they follow a pattern, and are others from point to point.'
          : lower == null && upper == null
            ? 'Here there are too few values for them yet.'
            : `Here they are ${[lower, upper]
                .filter((limit) => limit != null)
                .map(level)
                .join(' and ')}.`,
      ]
    case 'predictable': {
      const last = chart.segments.length - 1
      const signals = chart.signals.filter((signal) => signal.segment === last).length
      return [
        'A process that shows no signals goes on between its limits while nothing changes, whether that is good or bad.',
        signals === 0
          ? 'Here nothing that is in view stands out since its last shift.'
          : `Here ${counted(signals, 'signal')} in view since its last shift say that something else was at work.`,
      ]
    }
    case 'run': {
      const found = runOf(chart)
      return [
        'Several values in a row on one side of the average: each may be routine, so many together are not.',
        found ? `Here: ${found.title}, ${found.label}.` : 'In what is in view there is none.',
      ]
    }
    case 'segment':
      return [
        'The values from one shift of the process to the next, with an average and limits of their own.',
        chart.segments.length < 2
          ? 'Here all values are one.'
          : `Here there are ${chart.segments.length}; the last begins ${segment?.label}.`,
      ]
    case 'baseline': {
      const [first, last] = segment?.window ?? []
      return [
        'A stretch that limits rest on by choice, instead of all values of their segment.',
        first && last
          ? `Here they rest on ${longPeriod(first, chart.kpi.grain)} to ${longPeriod(last, chart.kpi.grain)}.`
          : `Here none is chosen: they rest on all ${counted(segment?.n ?? 0, 'value')}.`,
      ]
    }
  }
}

/** The newest run of a chart that is in view. */
export function runOf(chart: Chart) {
  return chart.signals.filter(({ rule }) => rule === 'run').at(-1)
}
