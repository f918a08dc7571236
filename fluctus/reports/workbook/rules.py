"""The rules as formulas: for each, what qualifies, how many of a window do, and what is flagged.

Values that are set aside have rows between the others, with empty cells; sums and maxima
pass over these. Windows are laid out when the workbook is made; their sums are formulas.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

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
    followed = analysis.followed is not None

    def judged(position: int) -> str:
        return layout.cell(JUDGED, position)

    def of_segment(position: int, column: int) -> str:
        return layout.of_segment(places.segment[position], column)

    def beyond(sigmas: float, sign: int) -> Qualifies:
        def formula(position: int) -> str:
            sigma, sign_of = of_segment(position, S_SIGMA), "+" if sign > 0 else "-"
            level = f"({of_segment(position, S_AVERAGE)}{sign_of}{sigmas}*{sigma})"
            value = judged(position)
            return above(value, level) if sign > 0 else above(level, value)

        return formula

    def apart(position: int) -> str:
        return f"ABS({judged(position)}-{of_segment(position, S_AVERAGE)})"

    def outside(sign: int) -> Qualifies:
        def formula(position: int) -> str:
            value = layout.cell(VALUE, position)
            limit = layout.cell(UPPER if sign > 0 else LOWER, position)
            held = of_segment(position, S_UPPER_HELD if sign > 0 else S_LOWER_HELD)
            is_beyond = above(value, limit) if sign > 0 else above(limit, value)
            # A limit that follows a pattern is held, or not, from value to value.
            return is_beyond if followed else f"AND({held}=0,{is_beyond})"

        return formula

    def side(sign: int) -> Qualifies:
        def formula(position: int) -> str:
            value, level = judged(position), of_segment(position, S_AVERAGE)
            return above(value, level) if sign > 0 else above(level, value)

        return formula

    def step(sign: int) -> Qualifies:
        def formula(position: int) -> str:
            value, before = judged(position), judged(places.before(position, 1))
            return above(value, before) if sign > 0 else above(before, value)

        return formula

    def alternates(position: int) -> str:
        one, two, three = (judged(places.before(position, back)) for back in (2, 1, 0))
        return (
            f"OR(AND({above(two, one)},{above(two, three)}),"
            f"AND({above(one, two)},{above(three, two)}))"
        )

    def range_beyond(position: int) -> str:
        cell = layout.cell(RANGE, position)
        return f"IF(ISNUMBER({cell}),{above(cell, layout.cell(RANGE_LIMIT, position))},FALSE)"

    def within(position: int) -> str:
        return above(of_segment(position, S_SIGMA), apart(position))

    def far(position: int) -> str:
        return above(apart(position), of_segment(position, S_SIGMA))

    length = analysis.settings.run_length
    one_sided = {
        Rule.OUTSIDE_LIMITS: (outside, 1, 1),
        Rule.RUN: (side, length, length),
        Rule.NEAR_LIMIT: (lambda sign: beyond(1.5, sign), 3, 4),
        Rule.TWO_OF_THREE_BEYOND_TWO_SIGMA: (lambda sign: beyond(2, sign), 2, 3),
        Rule.FOUR_OF_FIVE_BEYOND_ONE_SIGMA: (lambda sign: beyond(1, sign), 4, 5),
    }
    tests = []
    for rule in Rule:
        if rule not in analysis.settings.rules:
            continue
        if rule in one_sided:
            way, needed, window = one_sided[rule]
            tests += [
                Test(rule, name, way(sign), needed, window, window)
                for name, sign in (("above", 1), ("below", -1))
            ]
        elif rule is Rule.SIX_TRENDING:
            tests += [
                Test(rule, name, step(sign), 5, 5, 6, all_of_them=True, after=1)
                for name, sign in (("rising", 1), ("falling", -1))
            ]
        elif rule is Rule.FOURTEEN_ALTERNATING:
            tests.append(Test(rule, "", alternates, 12, 12, 14, all_of_them=True, after=2))
        elif rule is Rule.RANGE_OUTSIDE_LIMIT:
            tests.append(Test(rule, "", range_beyond, 1, 1, 1))
        elif rule is Rule.FIFTEEN_WITHIN_ONE_SIGMA:
            tests.append(Test(rule, "", within, 15, 15, 15))
        elif rule is Rule.EIGHT_BEYOND_ONE_SIGMA:
            tests.append(Test(rule, "", far, 8, 8, 8))
    return tests


@dataclass(frozen=True, slots=True)
class Places:
    """The included values of a chart: which come before and after which, in their segment."""

    included: Ints
    """Positions that take part, shape (m,)."""
    at_included: Ints
    """The at_included of each position among these, shape (n,); -1: takes no part."""
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
