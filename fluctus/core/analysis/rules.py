"""The detection rules, each known here and nowhere else.

To add a rule: give it a member in ``Rule``, an entry in ``RULES`` and a finder in
``finders.FINDERS``; add a worked case to ``tests/core/golden.json``. Its words, mark,
order, simulation and place in the API and on the screen follow from the entry.

Sources: the core set is D. J. Wheeler, *Understanding Variation*, 2nd ed. (SPC
Press, 2000) and *Making Sense of Data* (SPC Press, 2003); the extended set
adds the zone tests of Western Electric, *Statistical Quality Control Handbook*
(1956) and L. S. Nelson, "The Shewhart control chart: tests for special
causes", *Journal of Quality Technology* 16 (1984) 237-239.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final


class Rule(StrEnum):
    """A detection rule, by its id. The order is the order of reading."""

    OUTSIDE_LIMITS = "outside_limits"
    RANGE_OUTSIDE_LIMIT = "range_outside_limit"
    RUN = "run"
    NEAR_LIMIT = "near_limit"
    TWO_OF_THREE_BEYOND_TWO_SIGMA = "two_of_three_beyond_two_sigma"
    FOUR_OF_FIVE_BEYOND_ONE_SIGMA = "four_of_five_beyond_one_sigma"
    SIX_TRENDING = "six_trending"
    FIFTEEN_WITHIN_ONE_SIGMA = "fifteen_within_one_sigma"
    EIGHT_BEYOND_ONE_SIGMA = "eight_beyond_one_sigma"
    FOURTEEN_ALTERNATING = "fourteen_alternating"


class Judges(StrEnum):
    """What a rule looks at."""

    VALUES = "values"
    RANGES = "ranges"
    """The moving ranges."""
    ORDER = "order"
    """The values by their order alone, against no level."""


class Against(StrEnum):
    """The level that values or ranges are judged against."""

    LIMIT = "limit"
    RANGE_LIMIT = "range_limit"
    CENTRE = "centre"
    SIGMA = "sigma"
    """So many sigma from the centre, on the side of the signal."""
    BAND = "band"
    """Both sides of the centre at once, so that there is no one level."""
    NOTHING = "nothing"


class Mark(StrEnum):
    """The shape that flagged points are drawn with; where several would do, the first."""

    OUTSIDE = "outside"
    RUN = "run"
    NEAR = "near"
    EXTENDED = "extended"


@dataclass(frozen=True, slots=True)
class RuleDefinition:
    """All that is to be known of a rule but how it is found.

    It holds where at least ``needed`` of ``window`` successive values qualify; a
    run's are those of its length. ``sigmas`` is the distance of its level from the
    centre. ``weight`` orders the rules by how much one says of a process: a finding
    leads with the least. ``title`` names a signal, with {count}, {side} (above or
    below), {edge} (upper or lower) and {way} (rising or falling) filled in;
    ``single`` names one of a single point.
    """

    name: str
    true_when: str
    title: str
    mark: Mark
    judges: Judges
    against: Against
    weight: int
    needed: int = 1
    window: int = 1
    sigmas: float | None = None
    single: str = ""
    extended: bool = False

    def says(self, run_length: int) -> str:
        """Return when the rule is true, for a run of ``run_length``."""
        return self.true_when.format(run_length=run_length)


RULES: Final[dict[Rule, RuleDefinition]] = {
    Rule.OUTSIDE_LIMITS: RuleDefinition(
        name="Outside the limits",
        true_when="a value is beyond a natural process limit",
        title="{Side} the {edge} limit, {count} in a row",
        single="{Side} the {edge} limit",
        mark=Mark.OUTSIDE,
        judges=Judges.VALUES,
        against=Against.LIMIT,
        weight=0,
    ),
    Rule.RANGE_OUTSIDE_LIMIT: RuleDefinition(
        name="Range outside its limit",
        true_when="a moving range is above the upper range limit",
        title="{count} ranges above limit",
        single="Range above limit",
        mark=Mark.OUTSIDE,
        judges=Judges.RANGES,
        against=Against.RANGE_LIMIT,
        weight=9,
    ),
    Rule.RUN: RuleDefinition(
        name="Run on one side of the average",
        true_when="{run_length} or more successive values are on the same side of the average",
        title="Run of {count} {side} average",
        mark=Mark.RUN,
        judges=Judges.VALUES,
        against=Against.CENTRE,
        weight=1,
    ),
    Rule.NEAR_LIMIT: RuleDefinition(
        name="Three of four near a limit",
        true_when="at least 3 of 4 successive values are nearer to one limit than to the average",
        title="{count} near the {edge} limit",
        mark=Mark.NEAR,
        judges=Judges.VALUES,
        against=Against.SIGMA,
        weight=4,
        needed=3,
        window=4,
        sigmas=1.5,
    ),
    Rule.TWO_OF_THREE_BEYOND_TWO_SIGMA: RuleDefinition(
        name="Two of three beyond two sigma",
        true_when="at least 2 of 3 successive values are beyond 2 sigma on the same side",
        title="Two of three beyond two sigma, {side}",
        mark=Mark.EXTENDED,
        judges=Judges.VALUES,
        against=Against.SIGMA,
        weight=2,
        needed=2,
        window=3,
        sigmas=2.0,
        extended=True,
    ),
    Rule.FOUR_OF_FIVE_BEYOND_ONE_SIGMA: RuleDefinition(
        name="Four of five beyond one sigma",
        true_when="at least 4 of 5 successive values are beyond 1 sigma on the same side",
        title="Four of five beyond one sigma, {side}",
        mark=Mark.EXTENDED,
        judges=Judges.VALUES,
        against=Against.SIGMA,
        weight=3,
        needed=4,
        window=5,
        sigmas=1.0,
        extended=True,
    ),
    Rule.SIX_TRENDING: RuleDefinition(
        name="Six rising or falling",
        true_when="6 successive values steadily rise, or steadily fall",
        title="{count} {way} in a row",
        mark=Mark.EXTENDED,
        judges=Judges.ORDER,
        against=Against.NOTHING,
        weight=5,
        needed=6,
        window=6,
        extended=True,
    ),
    Rule.FIFTEEN_WITHIN_ONE_SIGMA: RuleDefinition(
        name="Fifteen within one sigma",
        true_when="15 successive values are all within 1 sigma of the average",
        title="Fifteen within one sigma",
        mark=Mark.EXTENDED,
        judges=Judges.VALUES,
        against=Against.BAND,
        weight=6,
        needed=15,
        window=15,
        sigmas=1.0,
        extended=True,
    ),
    Rule.EIGHT_BEYOND_ONE_SIGMA: RuleDefinition(
        name="Eight beyond one sigma",
        true_when="8 successive values are all further than 1 sigma from the average",
        title="Eight beyond one sigma",
        mark=Mark.EXTENDED,
        judges=Judges.VALUES,
        against=Against.BAND,
        weight=7,
        needed=8,
        window=8,
        sigmas=1.0,
        extended=True,
    ),
    Rule.FOURTEEN_ALTERNATING: RuleDefinition(
        name="Fourteen alternating",
        true_when="14 successive values alternate up and down",
        title="Fourteen alternating",
        mark=Mark.EXTENDED,
        judges=Judges.ORDER,
        against=Against.NOTHING,
        weight=8,
        needed=14,
        window=14,
        extended=True,
    ),
}
"""Near a limit is beyond half of the way to it: 1.5 sigma, which like sigma comes from the
unclipped limit."""

CORE_RULES: Final = frozenset(rule for rule in Rule if not RULES[rule].extended)
"""The set that is on by default; more rules find more, and cry wolf more."""

EXTENDED_RULES: Final = frozenset(Rule) - CORE_RULES

RUN_LENGTHS: Final = (7, 8, 9)
DEFAULT_RUN_LENGTH: Final = 8


def flagged_to_signal(rule: Rule, run_length: int) -> int:
    """Return how many values ``rule`` has flagged at the moment it first holds."""
    return run_length if rule is Rule.RUN else RULES[rule].needed
