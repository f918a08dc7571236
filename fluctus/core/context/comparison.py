"""How a segment stands, to be set beside another."""

from dataclasses import dataclass

import numpy as np

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.arrays import Bools


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


def level_of(analysis: Analysis, number: int, met: Bools | None) -> Level:
    """Describe segment ``number`` of ``analysis``.

    ``met`` tells which values meet their target, shape (n,); None where there is none.
    """
    segment = analysis.segments[number]
    included = analysis.included_in(number)
    share = None if met is None or not len(included) else float(np.mean(met[included]))
    average, spread = segment.average, segment.spread
    return Level(len(included), average, spread, segment.upper, segment.lower, share)
