"""Whether a process keeps to its limits, so that they say what to expect.

Limits predict only while the process keeps to them. A process with 1 value in 100 beyond its
limits, by chance, shows k or more of n with the binomial tail; below 1 in 1,000 it does not keep.
The rate is a bound for distributions that are far from normal: D. J. Wheeler, *Normality and
the Process Behavior Chart* (SPC Press, 2000).
"""

from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from scipy.stats import binom

from fluctus.core.analysis.analyse import Analysis, analyse
from fluctus.core.analysis.constants import MIN_VALUES_FOR_LIMITS
from fluctus.core.analysis.rules import Rule

BEYOND_BY_CHANCE: Final = 0.01
LEAST_CHANCE: Final = 0.001


@dataclass(frozen=True, slots=True)
class Predictability:
    """Of ``count`` included values of the last segment, ``beyond`` are beyond its limits."""

    beyond: int
    count: int

    @property
    def is_predictable(self) -> bool:
        """Whether so many beyond the limits are no wonder."""
        return bool(binom.sf(self.beyond - 1, self.count, BEYOND_BY_CHANCE) >= LEAST_CHANCE)


def predictability_of(analysis: Analysis) -> Predictability | None:
    """Count the values beyond the limits; None where there are too few, or no limits.

    Limits that follow a trend or a season are judged by what they follow.
    """
    last = analysis.segments[-1]
    count = int(analysis.series.included[last.start : last.stop].sum())
    if last.upper is None or count < MIN_VALUES_FOR_LIMITS:
        return None
    flagged = with_limits_in_force(analysis).signals.flagged(Rule.OUTSIDE_LIMITS)
    return Predictability(int(np.count_nonzero(flagged >= last.start)), count)


def with_limits_in_force(analysis: Analysis) -> Analysis:
    """Return an analysis that flags what is beyond the limits, whatever rules were chosen."""
    if Rule.OUTSIDE_LIMITS in analysis.settings.rules:
        return analysis
    only = frozenset({Rule.OUTSIDE_LIMITS})
    return analyse(analysis.series, replace(analysis.settings, rules=only))
