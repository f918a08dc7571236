"""The detection rules: what each one is called, says and looks for.

To add a rule: give it a member in ``Rule``, a row in ``DEFINITIONS`` and a
finder in ``detection.FINDERS``; put it in a set below; add a worked case to
``tests/core/golden.json``.

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


@dataclass(frozen=True, slots=True)
class Definition:
    """A rule in words, for people."""

    name: str
    true_when: str


DEFINITIONS: Final[dict[Rule, Definition]] = {
    Rule.OUTSIDE_LIMITS: Definition(
        "Outside the limits", "a value is beyond a natural process limit"
    ),
    Rule.RANGE_OUTSIDE_LIMIT: Definition(
        "Range outside its limit", "a moving range is above the upper range limit"
    ),
    Rule.RUN: Definition(
        "Run on one side", "8 or more successive values are on the same side of the average"
    ),
    Rule.NEAR_LIMIT: Definition(
        "Near a limit",
        "at least 3 of 4 successive values are nearer to one limit than to the average",
    ),
    Rule.TWO_OF_THREE_BEYOND_TWO_SIGMA: Definition(
        "Two of three beyond two sigma",
        "at least 2 of 3 successive values are beyond 2 sigma on the same side",
    ),
    Rule.FOUR_OF_FIVE_BEYOND_ONE_SIGMA: Definition(
        "Four of five beyond one sigma",
        "at least 4 of 5 successive values are beyond 1 sigma on the same side",
    ),
    Rule.SIX_TRENDING: Definition(
        "Six trending", "6 successive values steadily rise, or steadily fall"
    ),
    Rule.FIFTEEN_WITHIN_ONE_SIGMA: Definition(
        "Fifteen within one sigma",
        "15 successive values are all within 1 sigma of the average",
    ),
    Rule.EIGHT_BEYOND_ONE_SIGMA: Definition(
        "Eight beyond one sigma",
        "8 successive values are all further than 1 sigma from the average",
    ),
    Rule.FOURTEEN_ALTERNATING: Definition(
        "Fourteen alternating", "14 successive values alternate up and down"
    ),
}

CORE_RULES: Final = frozenset(
    {Rule.OUTSIDE_LIMITS, Rule.RANGE_OUTSIDE_LIMIT, Rule.RUN, Rule.NEAR_LIMIT}
)
"""The set that is on by default."""

EXTENDED_RULES: Final = frozenset(Rule) - CORE_RULES
"""More rules find more, and cry wolf more."""

SIGMAS: Final = {
    Rule.NEAR_LIMIT: 1.5,
    Rule.TWO_OF_THREE_BEYOND_TWO_SIGMA: 2.0,
    Rule.FOUR_OF_FIVE_BEYOND_ONE_SIGMA: 1.0,
}
"""How many sigma from the centre the level of a "k of m" rule is.

Half of the way to a limit is 1.5 sigma; like sigma, it takes the unclipped limit.
"""

RUN_LENGTHS: Final = (7, 8, 9)
DEFAULT_RUN_LENGTH: Final = 8
