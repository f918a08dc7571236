"""What speaks for limits that follow a trend or a season: proposed only on its evidence.

Sources: N. R. Draper and H. Smith, *Applied Regression Analysis*, 3rd ed.
(Wiley, 1998), for R² and the F ratio between and within groups.
"""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy import stats

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.analysis.constants import MEAN_RANGE_PER_SIGMA, MIN_VALUES_FOR_FIRM_LIMITS
from fluctus.core.analysis.patterns import UnfitPatternError, fit_line, seasonal_relatives
from fluctus.core.analysis.settings import Season
from fluctus.core.arrays import Floats, Ints
from fluctus.core.judgment.candidates import SEARCHED
from fluctus.core.judgment.change_points import change_points

LEAST_R_SQUARED: Final = 0.5
SEASON_CHANCE: Final = 0.001
"""Chance of such differences between places with no season, below which one is proposed."""


@dataclass(frozen=True, slots=True)
class TrendEvidence:
    """How well a line describes the values of a segment.

    ``steps`` counts the changes of level that were found instead, and
    ``steps_r_squared`` is what they explain: a line is proposed only where it
    describes the values better for as many numbers (the criterion of G.
    Schwarz, *Annals of Statistics* 6 (1978) 461-464). Ranges are mean moving
    ranges, of the values and of the residuals.
    """

    slope: float
    r_squared: float
    steps: int
    steps_r_squared: float
    mean_range: float
    residual_range: float
    proposed: bool


@dataclass(frozen=True, slots=True)
class SeasonEvidence:
    """How much of the values a season explains. ``chance`` is that of the F ratio."""

    relatives: tuple[float, ...]
    share: float
    chance: float
    proposed: bool


def trend_evidence(analysis: Analysis) -> TrendEvidence | None:
    """Weigh a line against steps in the last segment; None with fewer than 17 values."""
    positions = _last(analysis)[-SEARCHED:]
    if len(positions) < MIN_VALUES_FOR_FIRM_LIMITS:
        return None
    values = analysis.series.values[positions]
    off = values - values.mean()
    total = float(off @ off)
    if total == 0:
        return None
    x = (positions - positions[0]).astype(np.float64)
    line = fit_line(x, values)
    residuals = values - line.start - line.slope * x
    squares = float(residuals @ residuals)
    r_squared = 1 - squares / total
    mean_range = _mean_range(values)
    steps = change_points(values, mean_range / MEAN_RANGE_PER_SIGMA) if mean_range else []
    left = sum(float(((piece - piece.mean()) ** 2).sum()) for piece in np.split(values, steps))
    # A line has two numbers, k steps have k + 1 levels and k places.
    better = _criterion(squares, len(values), 2) < _criterion(left, len(values), 2 * len(steps) + 1)
    return TrendEvidence(
        slope=line.slope,
        r_squared=r_squared,
        steps=len(steps),
        steps_r_squared=1 - left / total,
        mean_range=mean_range,
        residual_range=_mean_range(residuals),
        proposed=r_squared >= LEAST_R_SQUARED and better,
    )


def _criterion(squares: float, n: int, numbers: int) -> float:
    return n * math.log(squares / n) + numbers * math.log(n) if squares > 0 else -math.inf


def season_evidence(analysis: Analysis, season: Season) -> SeasonEvidence | None:
    """Weigh a season in the last segment; None where there are too few cycles for one."""
    positions = _last(analysis)
    values = analysis.series.values[positions]
    if not len(positions):
        return None
    try:
        relatives = seasonal_relatives(analysis.series.values, positions, season)
    except UnfitPatternError:
        return None
    places = season.places[positions]
    counts = np.bincount(places, minlength=season.length)
    means = np.bincount(places, values, season.length) / counts
    total = float(((values - values.mean()) ** 2).sum())
    between = float((counts * (means - values.mean()) ** 2).sum())
    within, free = total - between, len(values) - season.length
    if total == 0 or free <= 0:
        return None
    ratio = np.inf if within <= 0 else (between / (season.length - 1)) / (within / free)
    chance = float(stats.f.sf(ratio, season.length - 1, free))
    return SeasonEvidence(
        tuple(relatives.tolist()), between / total, chance, chance < SEASON_CHANCE
    )


def _last(analysis: Analysis) -> Ints:
    segment = analysis.segments[-1]
    included = analysis.series.included
    return np.flatnonzero(included[segment.start :]).astype(np.intp) + segment.start


def _mean_range(values: Floats) -> float:
    return float(np.abs(np.diff(values)).mean())
