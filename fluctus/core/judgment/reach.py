"""What it would take for every period to meet a target."""

from dataclasses import dataclass

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.analysis.limits import FACTORS
from fluctus.core.analysis.settings import Direction, Pattern


@dataclass(frozen=True, slots=True)
class TargetReach:
    """The two single remedies, in the KPI's unit.

    ``average`` would do at the present spread, ``spread`` (a mean or median moving range) at
    the present average; None where the average itself is on the wrong side. ``met`` tells
    that every period meets the target as it is.
    """

    average: float
    spread: float | None
    met: bool


def target_reach(analysis: Analysis, target: float) -> TargetReach | None:
    """Compute what a target takes; None without a wanted direction, or level limits.

    Every period meets the target when the average is at least the distance from centre to
    limit on the good side of it. A limit drawn at a natural bound counts as the bound.
    """
    last, direction = analysis.segments[-1], analysis.settings.direction
    if (
        direction is Direction.NEITHER
        or last.pattern is not Pattern.LEVEL
        or last.average is None
        or last.upper is None
        or last.lower is None
        or last.spread is None
    ):
        return None
    higher = direction is Direction.HIGHER
    limit = last.lower if higher else last.upper
    reach = abs(last.average - limit)
    room = last.average - target if higher else target - last.average
    factor, _ = FACTORS[analysis.settings.segments[-1].spread]
    return TargetReach(
        average=target + reach if higher else target - reach,
        spread=room / factor if room >= 0 else None,
        met=limit >= target if higher else limit <= target,
    )
