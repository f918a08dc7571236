"""Finds where the rules hold, over all segments of a layout at once.

A rule looks at *included* values only, so a missing or set-aside value neither
counts nor breaks a sequence, and never across the border of a segment. Each
finder returns one ``Flagged`` for each side it knows.

Rules on sequences come down to windows: first which values qualify, then which
windows of k successive values hold enough of them, then which values those
windows cover.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import IntEnum
from typing import Final

import numpy as np

from fluctus.core.analysis.layout import Layout
from fluctus.core.analysis.limits import Limits
from fluctus.core.analysis.rules import RULES, Rule
from fluctus.core.analysis.ties import differs, just_above, just_below
from fluctus.core.arrays import Bools, Floats, Ints

SEGMENTS_WORTH_A_LOOP: Final = 2000
"""Average length of segment from which slicing beats spreading levels over the values."""

SPREAD_BLOCK: Final = 65_536
"""Values compared at a time when levels are spread, so that they stay in the cache."""


class Side(IntEnum):
    """Which side of the centre, or which way, a signal points."""

    LOWER = -1
    NEITHER = 0
    UPPER = 1


@dataclass(frozen=True, slots=True)
class Flagged:
    """What a rule flags on one side: places among the included values, in order.

    ``gap`` is how many unflagged values may lie between two flagged ones of
    the same signal: 0 where a rule needs all of a sequence, m - k for "k of m".
    """

    rule: Rule
    side: Side
    places: Ints
    gap: int = 0


@dataclass(frozen=True, slots=True)
class Examined:
    """What the finders look at."""

    layout: Layout
    limits: Limits
    run_length: int
    bounded: tuple[Bools, Bools] | None = None
    """Positions at which the upper and the lower limit of a pattern are past a natural bound."""

    def above(self, levels: Floats, values: Floats | None = None) -> Bools:
        """Where an included value is above its segment's level, shape (m,). NaN: nowhere."""
        return self._compare(np.greater, just_above(levels), values)

    def below(self, levels: Floats) -> Bools:
        """Where an included value is below its segment's level, shape (m,). NaN: nowhere."""
        return self._compare(np.less, just_below(levels), None)

    def sides(self, levels: Callable[[int], Floats]) -> Iterator[tuple[Side, Bools]]:
        """For each side, where values are beyond the level that ``levels`` gives for it."""
        yield Side.UPPER, self.above(levels(1))
        yield Side.LOWER, self.below(levels(-1))

    def _compare(self, compare: np.ufunc, levels: Floats, values: Floats | None) -> Bools:
        x = self.layout.included if values is None else values
        borders = self.layout.packed
        result = np.empty(len(x), np.bool_)
        if len(x) >= SEGMENTS_WORTH_A_LOOP * len(levels):
            for level, a, b in zip(levels, borders[:-1], borders[1:], strict=True):
                compare(x[a:b], level, out=result[a:b])
            return result
        lengths = np.diff(borders)
        per_block = max(1, SPREAD_BLOCK * len(levels) // max(1, len(x)))
        for first in range(0, len(levels), per_block):
            last = min(first + per_block, len(levels))
            a, b = borders[first], borders[last]
            compare(x[a:b], np.repeat(levels[first:last], lengths[first:last]), out=result[a:b])
        return result

    def inside_segments(self, holds: Bools, length: int) -> Bools:
        """Clear, in place, the windows that start too late to end in their segment."""
        starts, stops = self.layout.packed[:-1], self.layout.packed[1:]
        late = stops[:, None] - np.arange(1, length)
        if len(starts) and (stops - starts).min() >= length - 1:
            holds[late] = False
        else:
            holds[late[late >= starts[:, None]]] = False
        return holds

    def without_limits(self) -> Bools:
        """Where an included value's segment has no limits, shape (m,)."""
        return np.repeat(~self.limits.exist, np.diff(self.layout.packed))


def _whole_windows(qualifies: Bools, length: int) -> Bools:
    """Where a window of ``length`` values starts that all qualify."""
    holds = qualifies.copy()
    done = 1
    while done < length:
        step = min(done, length - done)
        holds[:-step] &= holds[step:]
        holds[-step:] = False
        done += step
    return holds


def _counted_windows(qualifies: Bools, needed: int, length: int) -> Bools:
    """Where a window of ``length`` values starts of which ``needed`` or more qualify."""
    if len(qualifies) < length:
        return np.zeros(len(qualifies), np.bool_)
    count = qualifies.astype(np.uint8)
    n = len(count) - length + 1
    total = count[:n].copy()
    for step in range(1, length):
        total += count[step : step + n]
    holds = np.zeros(len(qualifies), np.bool_)
    np.greater_equal(total, needed, out=holds[:n])
    return holds


def _covered(windows: Bools, length: int) -> Bools:
    """Which values the windows that hold cover."""
    covered = windows.copy()
    done = 1
    while done < length:
        step = min(done, length - done)
        # The right side is a copy: in place, the same value would spread on and on.
        covered[step:] |= covered[:-step].copy()
        done += step
    return covered


def _outside_limits(examined: Examined) -> Iterator[Flagged]:
    limits = examined.limits
    upper = np.where(limits.upper_clipped, np.nan, limits.upper)
    lower = np.where(limits.lower_clipped, np.nan, limits.lower)
    for side, beyond in ((Side.UPPER, examined.above(upper)), (Side.LOWER, examined.below(lower))):
        places = _places(beyond)
        if examined.bounded is not None:
            held = examined.bounded[0 if side is Side.UPPER else 1]
            places = places[~held[examined.layout.position_of(places)]]
        yield Flagged(Rule.OUTSIDE_LIMITS, side, places)


def _range_outside_limit(examined: Examined) -> Iterator[Flagged]:
    ranges = examined.layout.included_ranges
    beyond = examined.above(examined.limits.range_limit, ranges)
    yield Flagged(Rule.RANGE_OUTSIDE_LIMIT, Side.UPPER, _places(beyond))


def _run(examined: Examined) -> Iterator[Flagged]:
    for side, beyond in examined.sides(lambda _: examined.limits.centre):
        yield _all_of(examined, Rule.RUN, side, beyond, examined.run_length)


def _near_limit(examined: Examined) -> Iterator[Flagged]:
    yield from _some_of(examined, Rule.NEAR_LIMIT)


def _two_of_three(examined: Examined) -> Iterator[Flagged]:
    yield from _some_of(examined, Rule.TWO_OF_THREE_BEYOND_TWO_SIGMA)


def _four_of_five(examined: Examined) -> Iterator[Flagged]:
    yield from _some_of(examined, Rule.FOUR_OF_FIVE_BEYOND_ONE_SIGMA)


def _six_trending(examined: Examined) -> Iterator[Flagged]:
    rises, falls = _steps(examined)
    length = RULES[Rule.SIX_TRENDING].window
    for side, steps in ((Side.UPPER, rises), (Side.LOWER, falls)):
        windows = _whole_windows(steps, length - 1)
        yield _cover(examined, Rule.SIX_TRENDING, side, windows, length)


def _fourteen_alternating(examined: Examined) -> Iterator[Flagged]:
    rises, falls = _steps(examined)
    turns = np.zeros(len(rises), np.bool_)
    turns[:-1] = (rises[:-1] & falls[1:]) | (falls[:-1] & rises[1:])
    length = RULES[Rule.FOURTEEN_ALTERNATING].window
    # 14 values have 13 steps, and 13 steps have 12 turns; a turn takes three values.
    windows = _whole_windows(turns, length - 2)
    yield _cover(examined, Rule.FOURTEEN_ALTERNATING, Side.NEITHER, windows, length)


def _fifteen_within(examined: Examined) -> Iterator[Flagged]:
    rule = Rule.FIFTEEN_WITHIN_ONE_SIGMA
    within = examined.below(_level(examined, rule, 1)) & examined.above(_level(examined, rule, -1))
    yield _all_of(examined, rule, Side.NEITHER, within, RULES[rule].window)


def _eight_beyond(examined: Examined) -> Iterator[Flagged]:
    rule = Rule.EIGHT_BEYOND_ONE_SIGMA
    beyond = examined.above(_level(examined, rule, 1)) | examined.below(_level(examined, rule, -1))
    yield _all_of(examined, rule, Side.NEITHER, beyond, RULES[rule].window)


def _level(examined: Examined, rule: Rule, way: int) -> Floats:
    """Return the level of ``rule`` for each segment, above the centre or below it."""
    sigmas = RULES[rule].sigmas
    assert sigmas is not None, "the rule has a level in sigma"
    return examined.limits.centre + way * sigmas * examined.limits.sigma


def _places(flags: Bools) -> Ints:
    return np.flatnonzero(flags)


def _all_of(examined: Examined, rule: Rule, side: Side, qualifies: Bools, length: int) -> Flagged:
    windows = _whole_windows(qualifies, length)
    return _cover(examined, rule, side, windows, length)


def _some_of(examined: Examined, rule: Rule) -> Iterator[Flagged]:
    needed, length = RULES[rule].needed, RULES[rule].window
    for side, beyond in examined.sides(lambda way: _level(examined, rule, way)):
        windows = examined.inside_segments(_counted_windows(beyond, needed, length), length)
        flagged = _places(_covered(windows, length) & beyond) if windows.any() else _NOWHERE
        yield Flagged(rule, side, flagged, gap=length - needed)


def _steps(examined: Examined) -> tuple[Bools, Bools]:
    """Where the next value is higher, and where it is lower, ties apart; shape (m,)."""
    x = examined.layout.included
    rises, falls = np.zeros(len(x), np.bool_), np.zeros(len(x), np.bool_)
    if len(x) > 1:
        steps = np.diff(x)
        real = differs(steps, x[1:], x[:-1]) & ~examined.without_limits()[:-1]
        rises[:-1] = (steps > 0) & real
        falls[:-1] = (steps < 0) & real
    return rises, falls


def _cover(examined: Examined, rule: Rule, side: Side, windows: Bools, length: int) -> Flagged:
    windows = examined.inside_segments(windows, length)
    flagged = _places(_covered(windows, length)) if windows.any() else _NOWHERE
    return Flagged(rule, side, flagged)


_NOWHERE: Final = np.empty(0, np.intp)

FINDERS: Final[dict[Rule, Callable[[Examined], Iterator[Flagged]]]] = {
    Rule.OUTSIDE_LIMITS: _outside_limits,
    Rule.RANGE_OUTSIDE_LIMIT: _range_outside_limit,
    Rule.RUN: _run,
    Rule.NEAR_LIMIT: _near_limit,
    Rule.TWO_OF_THREE_BEYOND_TWO_SIGMA: _two_of_three,
    Rule.FOUR_OF_FIVE_BEYOND_ONE_SIGMA: _four_of_five,
    Rule.SIX_TRENDING: _six_trending,
    Rule.FIFTEEN_WITHIN_ONE_SIGMA: _fifteen_within,
    Rule.EIGHT_BEYOND_ONE_SIGMA: _eight_beyond,
    Rule.FOURTEEN_ALTERNATING: _fourteen_alternating,
}
