"""The rules as formulas: for each, what qualifies, how many of a window do, and what is flagged.

Values that are set aside have rows between the others, with empty cells; sums and maxima
pass over these. Windows are laid out when the workbook is made; their sums are formulas.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np

from fluctus.core import Analysis, Rule
from fluctus.core.analysis import RULES
from fluctus.core.arrays import Ints
from fluctus.reports.workbook.columns import (
    JUDGED,
    LOWER,
    RANGE,
    RANGE_LIMIT,
    S_AVERAGE,
    S_LOWER_HELD,
    S_SIGMA,
    S_UPPER_HELD,
    UPPER,
    VALUE,
    Layout,
    above,
)

Qualifies = Callable[[int], str]
"""Says, as a formula, whether the value at a position qualifies."""


@dataclass(frozen=True, slots=True)
class Test:
    """One side of a rule: ``needed`` of ``window`` successive ones qualify.

    ``points`` are flagged for a window: as many as it has, or more, where what qualifies is
    a step between values; ``all_of_them`` whether also those that do not qualify themselves.
    """

    rule: Rule
    side: str
    qualifies: Qualifies
    needed: int
    window: int
    points: int
    all_of_them: bool = False
    after: int = 0
    """How many included values of the segment come before the first that can qualify."""

    @property
    def heads(self) -> tuple[str, ...]:
        """What its columns show; the last one is what is flagged."""
        return ("flagged",) if self.window == 1 else ("qualifies", "of its window", "flagged")


def rule_columns(analysis: Analysis, places: "Places", layout: Layout) -> list[Test]:
    """List the tests of the rules in force, each side on its own."""
    formulas = _Formulas(places, layout, followed=analysis.followed is not None)
    tests = _one_sided(formulas, analysis.settings.run_length) + _without_side(formulas)
    in_force = [rule for rule in Rule if rule in analysis.settings.rules]
    return [test for rule in in_force for test in tests if test.rule is rule]


@dataclass(frozen=True, slots=True)
class _Formulas:
    """What qualifies, as formulas over the cells of a chart; a sign is 1 above and -1 below."""

    places: "Places"
    layout: Layout
    followed: bool
    """Whether limits follow a trend or a season."""

    def value(self, position: int) -> str:
        return self.layout.cell(JUDGED, position)

    def of_segment(self, position: int, column: int) -> str:
        return self.layout.of_segment(self.places.segment[position], column)

    def distance(self, position: int) -> str:
        return f"ABS({self.value(position)}-{self.of_segment(position, S_AVERAGE)})"

    def outside(self, sign: int, position: int) -> str:
        value = self.layout.cell(VALUE, position)
        limit = self.layout.cell(UPPER if sign > 0 else LOWER, position)
        held = self.of_segment(position, S_UPPER_HELD if sign > 0 else S_LOWER_HELD)
        is_beyond = _further(value, limit, sign)
        # A limit that follows a pattern is held, or not, from value to value.
        return is_beyond if self.followed else f"AND({held}=0,{is_beyond})"

    def on_side(self, sign: int, position: int) -> str:
        return _further(self.value(position), self.of_segment(position, S_AVERAGE), sign)

    def beyond(self, sigmas: float, sign: int, position: int) -> str:
        average, sigma = self.of_segment(position, S_AVERAGE), self.of_segment(position, S_SIGMA)
        level = f"({average}{'+' if sign > 0 else '-'}{sigmas}*{sigma})"
        return _further(self.value(position), level, sign)

    def step(self, sign: int, position: int) -> str:
        return _further(self.value(position), self.value(self.places.before(position, 1)), sign)

    def alternates(self, position: int) -> str:
        first, middle, last = (self.value(self.places.before(position, back)) for back in (2, 1, 0))
        return (
            f"OR(AND({above(middle, first)},{above(middle, last)}),"
            f"AND({above(first, middle)},{above(last, middle)}))"
        )

    def range_beyond(self, position: int) -> str:
        cell, limit = self.layout.cell(RANGE, position), self.layout.cell(RANGE_LIMIT, position)
        return f"IF(ISNUMBER({cell}),{above(cell, limit)},FALSE)"

    def within(self, position: int) -> str:
        return above(self.of_segment(position, S_SIGMA), self.distance(position))

    def far(self, position: int) -> str:
        return above(self.distance(position), self.of_segment(position, S_SIGMA))


def _further(value: str, level: str, sign: int) -> str:
    return above(value, level) if sign > 0 else above(level, value)


def _one_sided(formulas: _Formulas, run_length: int) -> list[Test]:
    """List the tests that have a side: what a rule needs, of how many successive values."""
    needs: dict[Rule, tuple[Callable[[int, int], str], int, int]] = {
        Rule.OUTSIDE_LIMITS: (formulas.outside, 1, 1),
        Rule.RUN: (formulas.on_side, run_length, run_length),
        Rule.NEAR_LIMIT: (partial(formulas.beyond, 1.5), 3, 4),
        Rule.TWO_OF_THREE_BEYOND_TWO_SIGMA: (partial(formulas.beyond, 2), 2, 3),
        Rule.FOUR_OF_FIVE_BEYOND_ONE_SIGMA: (partial(formulas.beyond, 1), 4, 5),
    }
    level = [
        Test(rule, side, partial(qualifies, sign), needed, window, window)
        for rule, (qualifies, needed, window) in needs.items()
        for side, sign in (("above", 1), ("below", -1))
    ]
    trending = [
        Test(
            Rule.SIX_TRENDING,
            side,
            partial(formulas.step, sign),
            *(5, 5, 6),
            all_of_them=True,
            after=1,
        )
        for side, sign in (("rising", 1), ("falling", -1))
    ]
    return level + trending


def _without_side(formulas: _Formulas) -> list[Test]:
    return [
        Test(Rule.RANGE_OUTSIDE_LIMIT, "", formulas.range_beyond, 1, 1, 1),
        Test(Rule.FIFTEEN_WITHIN_ONE_SIGMA, "", formulas.within, 15, 15, 15),
        Test(Rule.EIGHT_BEYOND_ONE_SIGMA, "", formulas.far, 8, 8, 8),
        Test(
            Rule.FOURTEEN_ALTERNATING,
            "",
            formulas.alternates,
            12,
            12,
            14,
            all_of_them=True,
            after=2,
        ),
    ]


@dataclass(frozen=True, slots=True)
class Places:
    """The included values of a chart: which come before and after which, in their segment."""

    included: Ints
    """Positions that take part, shape (m,)."""
    at_included: Ints
    """The index of each position among these, shape (n,); -1: takes no part."""
    segment: Sequence[int]
    """The segment of each position."""
    starts: Sequence[int]
    stops: Sequence[int]
    """The places at which each segment begins and ends."""
    has_limits: Sequence[bool]

    @classmethod
    def of(cls, analysis: Analysis) -> "Places":
        """Lay out the included values of an analysis."""
        taken = analysis.series.included
        included = np.flatnonzero(taken)
        at_included = np.full(len(taken), -1, np.intp)
        at_included[included] = np.arange(len(included))
        borders = [segment.start for segment in analysis.segments] + [len(taken)]
        at = np.searchsorted(included, borders).tolist()
        numbers = np.repeat(np.arange(len(analysis.segments)), np.diff(borders))
        return cls(
            included,
            at_included,
            numbers.tolist(),
            at[:-1],
            at[1:],
            [segment.sigma is not None for segment in analysis.segments],
        )

    def before(self, position: int, back: int) -> int:
        """Return the included position so many before one."""
        return int(self.included[self.at_included[position] - back])

    def formulas(self, test: Test, layout: Layout, column: int, position: int) -> list[str]:
        """Return what stands at a position in the columns of a test, empty for nothing."""
        at_included, number = int(self.at_included[position]), self.segment[position]
        # Without limits there is no rule but the run, which asks for the average alone.
        if at_included < 0 or not (self.has_limits[number] or test.rule is Rule.RUN):
            return [""] * len(test.heads)
        if test.window == 1:
            return [f"=IF({test.qualifies(position)},1,0)"]
        first, stop = self.starts[number], self.stops[number]
        at = at_included - first
        qualifies = "" if at < test.after else f"=IF({test.qualifies(position)},1,0)"
        in_window = ""
        if at >= test.after + test.window - 1:
            begin = int(self.included[at_included - test.window + 1])
            in_window = f"=SUM({layout.stretch(column, begin, position)})"
        # Every window that covers the point ends between it and the last that can.
        end = int(self.included[min(stop - 1, at_included + test.points - 1)])
        holds = f"MAX({layout.stretch(column + 1, position, end)})>={test.needed}"
        own = "" if test.all_of_them else f",{layout.cell(column, position)}=1"
        return [qualifies, in_window, f"=IF(AND({holds}{own}),1,0)"]


def heading(test: Test) -> str:
    """Name a test: ``Run on one side of the average, above``."""
    name = RULES[test.rule].name
    return f"{name}, {test.side}" if test.side else name
