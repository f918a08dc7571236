"""Flagged values grouped into signals, each with the numbers it was judged by."""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from typing import overload

import numpy as np

from fluctus.core.analysis.finders import Flagged, Side
from fluctus.core.analysis.layout import Layout
from fluctus.core.analysis.patterns import Followed
from fluctus.core.analysis.rules import RULES, Against, Judges, Rule
from fluctus.core.analysis.settings import Direction
from fluctus.core.arrays import Floats, Ints, indices_of_slices


@dataclass(frozen=True, slots=True)
class Signal:
    """Successive flagged values of one rule and side.

    ``points`` are positions in the series; ``values`` are what was judged: the
    values, or for a range rule the moving ranges. ``level`` is what they were
    judged against (a limit, the centre, a number of sigma); None where the
    rule looks at the order of values only. Where these follow a pattern they
    are those at the furthest value. ``sigmas`` is how far the furthest value
    is from the centre, in sigma, signed; None where there is no sigma.
    ``favorable`` is None where the wanted direction does not say.
    """

    rule: Rule
    side: Side
    segment: int
    points: tuple[int, ...]
    values: tuple[float, ...]
    centre: float
    level: float | None
    sigmas: float | None
    favorable: bool | None


@dataclass(frozen=True, slots=True)
class SignalColumns:
    """Signals of a whole layout, in columns of shape (k,).

    A chart of a million values can have ten thousand signals; as columns they
    cost a few array operations, and only those looked at become objects.
    ``points[starts[i]:stops[i]]`` are the positions of signal i.
    """

    rules: tuple[Rule, ...]
    rule: Ints
    side: Ints
    segment: Ints
    starts: Ints
    stops: Ints
    points: Ints

    def __len__(self) -> int:
        return len(self.rule)


def group(layout: Layout, flagged: Sequence[Flagged]) -> SignalColumns:
    """Group flagged places into signals, in order of their first value, then of their rule."""
    rules = tuple(dict.fromkeys(flags.rule for flags in flagged))
    columns: list[tuple[Ints, ...]] = []
    positions: list[Ints] = []
    offset = 0
    for flags in flagged:
        places = flags.places
        if not len(places):
            continue
        segment = np.searchsorted(layout.packed, places, side="right") - 1
        cut = np.flatnonzero((np.diff(places) > flags.gap + 1) | (np.diff(segment) != 0)) + 1
        starts = np.concatenate(([0], cut))
        stops = np.concatenate((cut, [len(places)]))
        size = len(starts)
        columns.append(
            (
                np.full(size, rules.index(flags.rule)),
                np.full(size, int(flags.side)),
                segment[starts],
                starts + offset,
                stops + offset,
            )
        )
        positions.append(layout.position_of(places))
        offset += len(places)
    if not columns:
        none = np.empty(0, np.intp)
        return SignalColumns(rules, none, none, none, none, none, none)
    rule, side, segment, starts, stops = (np.concatenate(c) for c in zip(*columns, strict=True))
    points = np.concatenate(positions)
    order = np.lexsort((rule, points[starts]))
    return SignalColumns(
        rules, rule[order], side[order], segment[order], starts[order], stops[order], points
    )


@dataclass(frozen=True, slots=True, eq=False)
class Signals(Sequence[Signal]):
    """The signals of one series, in order of their first value."""

    columns: SignalColumns
    chosen: range
    """Which rows of ``columns`` are this series'."""
    first_segment: int
    first_position: int
    values: Floats
    adjusted: Floats
    """The values with the patterns of their segments taken out."""
    followed: Followed | None
    ranges: Floats
    centre: Floats
    upper: Floats
    lower: Floats
    range_limit: Floats
    sigma: Floats
    direction: Direction

    def __len__(self) -> int:
        return len(self.chosen)

    @overload
    def __getitem__(self, index: int) -> Signal: ...
    @overload
    def __getitem__(self, index: slice) -> list[Signal]: ...
    def __getitem__(self, index: int | slice) -> Signal | list[Signal]:
        if isinstance(index, slice):
            return [self._signal(row) for row in self.chosen[index]]
        return self._signal(self.chosen[index])

    def __iter__(self) -> Iterator[Signal]:
        return map(self._signal, self.chosen)

    @property
    def firsts(self) -> Ints:
        """The first position of each, shape (k,)."""
        return self.columns.points[self.columns.starts[self._rows]] - self.first_position

    @property
    def weights(self) -> Ints:
        """The weight of the rule of each, shape (k,)."""
        of_rules = np.array([RULES[rule].weight for rule in self.columns.rules], np.intp)
        return of_rules[self.columns.rule[self._rows]]

    @property
    def _rows(self) -> slice:
        return slice(self.chosen.start, self.chosen.stop)

    def reaching_into(self, start: int, stop: int) -> Ints:
        """Return the numbers of those that have a point at or after ``start``, and before ``stop``.

        A signal without a point between them, but on either side, counts as well.
        """
        lasts = self.columns.points[self.columns.stops[self._rows] - 1] - self.first_position
        return np.flatnonzero((lasts >= start) & (self.firsts < stop))

    def numbers_of(self, rules: Collection[Rule]) -> Ints:
        """Return the numbers of those of some rules, in order."""
        wanted = np.array([rule in rules for rule in self.columns.rules], np.bool_)
        return np.flatnonzero(wanted[self.columns.rule[self._rows]])

    def points_of(self, numbers: Ints) -> Ints:
        """Return the positions that some of them flag, signal after signal."""
        columns, rows = self.columns, numbers + self.chosen.start
        points = columns.points[indices_of_slices(columns.starts[rows], columns.stops[rows])]
        return points - self.first_position

    def flagged(self, rule: Rule) -> Ints:
        """Positions flagged by ``rule``, in order, each once."""
        return np.unique(self.points_of(self.numbers_of([rule])))

    def _signal(self, row: int) -> Signal:
        columns = self.columns
        rule = columns.rules[columns.rule[row]]
        side = Side(int(columns.side[row]))
        segment = int(columns.segment[row]) - self.first_segment
        points = columns.points[columns.starts[row] : columns.stops[row]] - self.first_position
        of_ranges = RULES[rule].judges is Judges.RANGES
        judged = self.ranges if of_ranges else self.values
        centre, sigma = float(self.centre[segment]), float(self.sigma[segment])
        distance = self.adjusted[points] - centre
        at = int(np.argmax(np.abs(distance)))
        furthest = float(distance[at])
        level = self._level(rule, side, segment)
        if self.followed is not None:
            # On the scale of the values, at the one that is furthest.
            scale = float(self.followed.scale[points[at]])
            offset = float(self.followed.offset[points[at]])
            centre = centre * scale + offset
            if level is not None and not of_ranges:
                level = level * scale + offset
        return Signal(
            rule=rule,
            side=side,
            segment=segment,
            points=tuple(points.tolist()),
            values=tuple(judged[points].tolist()),
            centre=centre,
            level=level,
            sigmas=furthest / sigma if sigma > 0 and not of_ranges else None,
            favorable=_favorable(rule, side, self.direction),
        )

    def _level(self, rule: Rule, side: Side, segment: int) -> float | None:
        match RULES[rule].against:
            case Against.LIMIT:
                return float((self.upper if side is Side.UPPER else self.lower)[segment])
            case Against.RANGE_LIMIT:
                return float(self.range_limit[segment])
            case Against.CENTRE:
                return float(self.centre[segment])
            case Against.SIGMA:
                sigmas = RULES[rule].sigmas or 0.0
                return float(self.centre[segment] + side * sigmas * self.sigma[segment])
            case Against.BAND | Against.NOTHING:
                return None


def _favorable(rule: Rule, side: Side, direction: Direction) -> bool | None:
    # A large moving range says that something moved, not that it moved well.
    of_ranges = RULES[rule].judges is Judges.RANGES
    if direction is Direction.NEITHER or side is Side.NEITHER or of_ranges:
        return None
    return (side is Side.UPPER) == (direction is Direction.HIGHER)
