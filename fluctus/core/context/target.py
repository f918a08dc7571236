"""What is wanted of a value."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from fluctus.core.analysis.settings import Direction
from fluctus.core.analysis.ties import just_above, just_below
from fluctus.core.arrays import Bools, Floats


class MeetsTarget(StrEnum):
    """Whether a process can meet its target, by its limits."""

    ALWAYS = "always"
    SOMETIMES = "sometimes"
    NEVER = "never"
    UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True)
class Target:
    """At least ``low`` and at most ``high``, in the KPI's unit; None where a side is open.

    A value on a side meets it.
    """

    low: float | None
    high: float | None

    def met_by(self, values: Floats) -> Bools:
        """Tell which of ``values``, shape (n,), meet it; a tie does."""
        low = np.array(-np.inf if self.low is None else self.low)
        high = np.array(np.inf if self.high is None else self.high)
        return between(values, low, high)

    def met_between(self, lower: float, upper: float) -> MeetsTarget:
        """Tell how often it is met by what is expected between two limits."""
        if self.met_by(np.array([lower, upper])).all():
            return MeetsTarget.ALWAYS
        ends = Target(self.low, None), Target(None, self.high)
        reached = ends[0].met_by(np.array([upper])), ends[1].met_by(np.array([lower]))
        return MeetsTarget.SOMETIMES if all(end[0] for end in reached) else MeetsTarget.NEVER


def between(values: Floats, low: Floats, high: Floats) -> Bools:
    """Tell which values, shape (n,), lie between two ends, or on one: a tie does.

    Ends are those of each value, or one for all.
    """
    with np.errstate(invalid="ignore"):
        too_low = np.where(np.isfinite(low), values < just_below(low), values < low)
        too_high = np.where(np.isfinite(high), values > just_above(high), values > high)
    return np.asarray(~(too_low | too_high))


def target_of(level: float | None, high: float | None, direction: Direction) -> Target | None:
    """Return the target of a ``level``, or of a range from it to ``high``.

    A single level is a low or a high side by the wanted direction; without one, it judges
    nothing, and there is None.
    """
    if level is None or (high is None and direction is Direction.NEITHER):
        return None
    if high is not None:
        return Target(level, high)
    return Target(level, None) if direction is Direction.HIGHER else Target(None, level)
