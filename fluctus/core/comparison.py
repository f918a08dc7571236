"""Before and after a process shift, in numbers."""

from dataclasses import dataclass

import numpy as np

from fluctus.core.analysis import Analysis
from fluctus.core.settings import Direction


@dataclass(frozen=True, slots=True)
class Level:
    """How a segment stands; numbers in the KPI's unit, None where one does not exist.

    ``share_meeting_target`` is from 0 to 1, over all included values.
    """

    average: float | None
    mean_range: float | None
    limits_width: float | None
    share_meeting_target: float | None


def level_of(analysis: Analysis, number: int, target: float | None) -> Level:
    """Describe segment ``number`` of ``analysis``.

    The width is that of the limits as drawn. A value on the target meets it.
    """
    segment = analysis.segments[number]
    own = slice(segment.start, segment.stop)
    values = analysis.series.values[own][analysis.series.included[own]]
    width = None
    if segment.upper is not None and segment.lower is not None:
        width = segment.upper - segment.lower
    direction = analysis.settings.direction
    share = None
    if target is not None and direction is not Direction.NEITHER and len(values):
        meets = values >= target if direction is Direction.HIGHER else values <= target
        share = float(np.mean(meets))
    return Level(segment.average, segment.spread, width, share)
