"""How a segment stands, to be set beside another."""

from dataclasses import dataclass

import numpy as np

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.arrays import Bools, Floats
from fluctus.core.context.target import Target


@dataclass(frozen=True, slots=True)
class Level:
    """How a segment stands; numbers in the KPI's unit, None where one does not exist.

    ``n`` counts its included values. ``share_meeting_target`` is from 0 to 1,
    over all of them.
    """

    n: int
    average: float | None
    mean_range: float | None
    upper: float | None
    lower: float | None
    share_meeting_target: float | None

    @property
    def limits_width(self) -> float | None:
        """How far apart the limits are, as drawn."""
        return None if self.upper is None or self.lower is None else self.upper - self.lower


def level_of(analysis: Analysis, number: int, target: Target | None) -> Level:
    """Describe segment ``number`` of ``analysis``."""
    segment = analysis.segments[number]
    meets = meets_target(analysis, number, target)
    share = float(np.mean(meets)) if meets is not None and len(meets) else None
    count = len(_included(analysis, number))
    return Level(count, segment.average, segment.spread, segment.upper, segment.lower, share)


def meets_target(analysis: Analysis, number: int, target: Target | None) -> Bools | None:
    """Tell which included values of segment ``number`` meet a target, in order; None: no target."""
    return None if target is None else target.met_by(_included(analysis, number))


def _included(analysis: Analysis, number: int) -> Floats:
    segment = analysis.segments[number]
    stretch = slice(segment.start, segment.stop)
    return analysis.series.values[stretch][analysis.series.included[stretch]]
