"""One happening, one finding: signals that say the same thing, gathered.

Signals of one segment on the same side that share a point belong together, and so does
what belongs together through others. A signal of ranges has no side: it counts both points
of each of its moving ranges and joins the happening it shares most points with, the later
one where equal; those that join none are gathered among themselves. Other signals without
a side stand alone.
"""

from dataclasses import dataclass

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.rules import RULES, Judges, Rule
from fluctus.core.analysis.signals import Signal
from fluctus.core.arrays import Bools, Ints, indices_of_slices


@dataclass(frozen=True, slots=True)
class Happening:
    """Signals that belong together, the weightiest first.

    ``points`` are the positions that any of them flags, in order.
    """

    signals: tuple[Signal, ...]
    points: tuple[int, ...]
    numbers: tuple[int, ...]
    """The numbers of its signals among those of the chart."""

    @property
    def lead(self) -> Signal:
        """The weightiest of its signals, the earlier one where equal."""
        return self.signals[0]

    @property
    def segment(self) -> int:
        """The number of its segment."""
        return self.lead.segment


@dataclass(frozen=True, slots=True, eq=False)
class Happenings:
    """The happenings of a chart, h of k signals, in order of their first point.

    ``of_signal`` (k,) is the happening of each signal; ``segments`` (h,) their segments.
    """

    analysis: Analysis
    of_signal: Ints
    segments: Ints

    def __len__(self) -> int:
        return len(self.segments)

    def raised_by(self, rules: frozenset[Rule]) -> Bools:
        """Tell which of them have a signal of one of these rules, shape (h,)."""
        return self._having(self.analysis.signals.numbers_of(rules))

    def reaching_into(self, start: int, stop: int) -> Bools:
        """Tell which of them have a signal that reaches into some positions, shape (h,)."""
        return self._having(self.analysis.signals.reaching_into(start, stop))

    def _having(self, numbers: Ints) -> Bools:
        """Tell which of them have one of some signals, shape (h,)."""
        having = np.zeros(len(self), np.bool_)
        having[self.of_signal[numbers]] = True
        return having

    def newest(self, most: int, raised: Bools | None = None) -> list[Happening]:
        """Return the last ones of those that are ``raised``, at most so many, in order."""
        numbers = np.arange(len(self)) if raised is None else np.flatnonzero(raised)
        chosen = np.flatnonzero(np.isin(self.of_signal, numbers[-most:]))
        weights = self.analysis.signals.weights[chosen]
        order = chosen[np.lexsort((weights, self.of_signal[chosen]))]
        cuts = np.flatnonzero(np.diff(self.of_signal[order])) + 1
        return [self._happening(rows.tolist()) for rows in np.split(order, cuts) if len(rows)]

    def _happening(self, numbers: list[int]) -> Happening:
        signals = tuple(self.analysis.signals[number] for number in numbers)
        points = sorted({point for signal in signals for point in signal.points})
        return Happening(signals, tuple(points), tuple(numbers))


def happenings_of(analysis: Analysis) -> Happenings:
    """Gather the signals of a chart; costs a few array operations however many there are."""
    signals = analysis.signals
    columns = signals.columns
    rows = np.arange(signals.chosen.start, signals.chosen.stop)
    count = len(rows)
    if not count:
        nothing = np.empty(0, np.intp)
        return Happenings(analysis, nothing, nothing)
    of_ranges = np.array([RULES[rule].judges is Judges.RANGES for rule in columns.rules])
    is_range = of_ranges[columns.rule[rows]]
    sided = ~is_range & (columns.side[rows] != int(Side.NEITHER))
    signal = np.repeat(np.arange(count), columns.stops[rows] - columns.starts[rows])
    point = signals.points_of(np.arange(count))
    upper = columns.side[rows][signal] > 0
    own = sided[signal]
    labels = _joined(count, signal[own], 2 * point[own] + upper[own])
    labels = _with_ranges(analysis, labels, sided, signal, point, is_range)
    segments = columns.segment[rows] - signals.first_segment
    # Numbered in order of their first point; of two that begin together, of their first signal.
    _, heads, of_signal = np.unique(labels, return_index=True, return_inverse=True)
    earliest = np.full(len(heads), np.iinfo(np.intp).max)
    np.minimum.at(earliest, of_signal, signals.firsts)
    order = np.lexsort((heads, earliest))
    position = np.empty_like(order)
    position[order] = np.arange(len(order))
    return Happenings(analysis, position[of_signal], segments[heads[order]])


def _joined(count: int, signal: Ints, key: Ints) -> Ints:
    """Label ``count`` signals, those alike that share a key; each pair is a signal and a key."""
    order = np.lexsort((signal, key))
    shared = np.flatnonzero(np.diff(key[order]) == 0)
    links = np.ones(len(shared), np.bool_)
    one, other = signal[order[shared]], signal[order[shared + 1]]
    graph = coo_array((links, (one, other)), shape=(count, count))
    return np.asarray(connected_components(graph, directed=False)[1], np.intp)


def _with_ranges(
    analysis: Analysis, labels: Ints, sided: Bools, signal: Ints, point: Ints, is_range: Bools
) -> Ints:
    """Let signals of ranges join the happening they share most points with, or each other."""
    of_range = is_range[signal]
    if not of_range.any():
        return labels
    ranges, later = signal[of_range], point[of_range]
    before = np.maximum(later - 1, 0)
    if not analysis.series.complete:
        places = np.flatnonzero(analysis.series.included)
        before = places[np.maximum(np.searchsorted(places, later) - 1, 0)]
    # Both points of each range; one that two ranges share counts once.
    ranges, points = _pairs(np.tile(ranges, 2), np.concatenate((later, before)))
    own = sided[signal]
    at, happening = _pairs(point[own], labels[signal[own]])
    votes, candidates = _matches(ranges, points, at, happening)
    latest = np.zeros(len(labels), np.intp)
    np.maximum.at(latest, labels[signal], point)
    voters, chosen, count = _pairs_counted(votes, candidates)
    order = np.lexsort((latest[chosen], count, voters))
    last_of_each = np.flatnonzero(np.diff(voters[order], append=-1) != 0)
    best = order[last_of_each]
    labels[voters[best]] = chosen[best]
    alone = ~np.isin(ranges, voters)
    among = _joined(len(labels), ranges[alone], points[alone])
    rows = np.unique(ranges[alone])
    labels[rows] = len(labels) + among[rows]
    return labels


def _matches(ranges: Ints, points: Ints, at: Ints, happening: Ints) -> tuple[Ints, Ints]:
    """Pair each range with the happenings at each of its points; ``at`` is in order."""
    first, last = np.searchsorted(at, points), np.searchsorted(at, points, side="right")
    return np.repeat(ranges, last - first), happening[indices_of_slices(first, last)]


def _pairs(first: Ints, second: Ints) -> tuple[Ints, Ints]:
    """Return each pair once, in order."""
    first, second, _ = _pairs_counted(first, second)
    return first, second


def _pairs_counted(first: Ints, second: Ints) -> tuple[Ints, Ints, Ints]:
    """Return each pair once, in order, and how often it is there."""
    # As first number, which sorts many times faster than a pair.
    size = int(second.max(initial=0)) + 1
    keys, counts = np.unique(first * size + second, return_counts=True)
    return keys // size, keys % size, counts
