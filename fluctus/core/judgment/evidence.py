"""What speaks for limits that follow a trend or a season: proposed only on its evidence.

Values that wander, step or fade look seasonal over a few cycles, and rising over a few years. So
what follows from the value before is taken out of the values first, and the cycles have to
foretell each other.

Sources: N. R. Draper and H. Smith, *Applied Regression Analysis*, 3rd ed. (Wiley, 1998), for R²
and the F test of several coefficients; D. Cochrane and G. H. Orcutt, *JASA* 44 (1949) 32-61, for
regression with first-order autocorrelation taken out; M. Stone, *JRSS B* 36 (1974) 111-147, for
what is foretold by what was left out.
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
from fluctus.core.context.comparison import included_in
from fluctus.core.judgment.candidates import SEARCHED
from fluctus.core.judgment.change_points import change_points

LEAST_R_SQUARED: Final = 0.5
LEAST_CHANCE: Final = 0.001
"""Chance of such evidence with no trend or season, below which one is proposed."""
MOST_FOLLOWING: Final = 0.99
FEWEST_FREE: Final = 8
"""Degrees of freedom that the regression on a season leaves at least."""
FEWEST_OF_CYCLE: Final = 4
SHARE_OF_CYCLE: Final = 0.8
"""A full cycle has so many values at least, and so much of what a cycle usually has."""
CYCLES_FORETOLD: Final = 2 / 3
LEAST_FALL: Final = 0.1
LOOKED_AT: Final = 20_000
"""Newest values of a segment that a season is looked for in."""


@dataclass(frozen=True, slots=True)
class TrendEvidence:
    """How well a line describes the values of a segment.

    ``steps`` counts the changes of level that were found instead, and
    ``steps_r_squared`` is what they explain: a line is proposed only where it
    describes the values better for as many numbers (the criterion of G.
    Schwarz, *Annals of Statistics* 6 (1978) 461-464), and ``chance``, that of such a rise where
    values only follow the ones before, is small. Ranges are mean moving
    ranges, of the values and of the residuals.
    """

    slope: float
    r_squared: float
    steps: int
    steps_r_squared: float
    mean_range: float
    residual_range: float
    chance: float
    proposed: bool


@dataclass(frozen=True, slots=True)
class SeasonTest:
    """What speaks for a season in values.

    ``following`` is the autocorrelation that was taken out, from 0 to 0.99; ``ratio`` the F of
    its places over ``degrees``, with its ``chance``. Of ``cycles`` full ones ``foretold`` have
    less left when the mean of the others is taken out, all of them less by a share of ``fall``.
    """

    following: float
    ratio: float
    degrees: tuple[int, int]
    chance: float
    cycles: int
    foretold: int
    fall: float

    @property
    def holds(self) -> bool:
        """Whether places differ by more than chance, and the cycles agree."""
        needed = self.cycles if self.cycles == 2 else CYCLES_FORETOLD * self.cycles
        agree = self.cycles > 1 and self.foretold >= needed and self.fall >= LEAST_FALL
        return self.chance < LEAST_CHANCE and self.degrees[1] >= FEWEST_FREE and agree


@dataclass(frozen=True, slots=True)
class SeasonEvidence:
    """A season: its relatives, the share of the variance they explain, and its test."""

    relatives: tuple[float, ...]
    relatives_are_ratios: bool
    share: float
    test: SeasonTest

    @property
    def proposed(self) -> bool:
        """Whether the evidence is enough to ask about it."""
        return self.test.holds


def trend_evidence(analysis: Analysis) -> TrendEvidence | None:
    """Weigh a line against steps in the last segment; None with fewer than 17 values."""
    positions = included_in(analysis, len(analysis.segments) - 1)
    return weigh_trend(analysis.series.values[positions], positions)


def weigh_trend(values: Floats, positions: Ints) -> TrendEvidence | None:
    """Weigh a line through values at some positions, both of shape (n,), against steps."""
    values, positions = values[-SEARCHED:], positions[-SEARCHED:]
    if len(values) < MIN_VALUES_FOR_FIRM_LIMITS:
        return None
    off = values - values.mean()
    total = float(off @ off)
    if np.ptp(values) <= 1e-9 * np.abs(values).max():
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
    level = np.ones((len(values), 1))
    _, _, _, chance = _held_against(values, level, x[:, None])
    return TrendEvidence(
        slope=line.slope,
        r_squared=r_squared,
        steps=len(steps),
        steps_r_squared=1 - left / total,
        mean_range=mean_range,
        residual_range=_mean_range(residuals),
        chance=chance,
        proposed=r_squared >= LEAST_R_SQUARED and better and chance < LEAST_CHANCE,
    )


def _criterion(squares: float, n: int, numbers: int) -> float:
    return n * math.log(squares / n) + numbers * math.log(n) if squares > 0 else -math.inf


def season_evidence(analysis: Analysis, season: Season) -> SeasonEvidence | None:
    """Weigh a season in the last segment; None where there are too few cycles for one."""
    positions = included_in(analysis, len(analysis.segments) - 1)
    return weigh_season(analysis.series.values, positions, season)


def weigh_season(values: Floats, positions: Ints, season: Season) -> SeasonEvidence | None:
    """Weigh a season in the values at some positions; None where they are too few for one."""
    positions = positions[-LOOKED_AT:]
    if not len(positions):
        return None
    try:
        relatives = seasonal_relatives(values, positions, season)
    except UnfitPatternError:
        return None
    places, members = season.places[positions], values[positions]
    test = test_season(members, places, season.cycles[positions], season.length)
    if test is None:
        return None
    counts = np.bincount(places, minlength=season.length)
    means = np.bincount(places, members, season.length) / counts
    total = float(((members - members.mean()) ** 2).sum())
    between = float((counts * (means - members.mean()) ** 2).sum())
    return SeasonEvidence(
        tuple(relatives.each.tolist()), relatives.are_ratios, between / total, test
    )


def test_season(values: Floats, places: Ints, cycles: Ints, length: int) -> SeasonTest | None:
    """Test the places and the cycles of values for a season; all of shape (n,).

    None where nothing varies, or a regression on so many places leaves nothing free.
    """
    n = len(values)
    free = n - 1 - (length + 1)
    if free < 1 or np.ptp(values) <= 1e-9 * np.abs(values).max():
        return None
    line = np.column_stack((np.ones(n), np.arange(n, dtype=np.float64)))
    dummies = (places[:, None] == np.arange(1, length)).astype(np.float64)
    following, ratio, degrees, chance = _held_against(values, line, dummies)
    profiles = _profiles(values, places, cycles)
    before, after = _foretold(profiles)
    fall = 1 - after.sum() / before.sum() if before.sum() > 0 else 0.0
    foretold = int((after < before).sum())
    return SeasonTest(following, ratio, degrees, chance, len(profiles), foretold, float(fall))


def _held_against(
    values: Floats, without: Floats, more: Floats
) -> tuple[float, float, tuple[int, int], float]:
    """Test whether ``more`` columns (n, p) explain values beyond those ``without`` them (n, q).

    First-order autocorrelation is taken out of both. Returns it, the F ratio, its degrees of
    freedom, and its chance.
    """
    n, columns = len(values), np.column_stack((without, more))
    residuals = _residuals(columns, values)
    squares = float(residuals @ residuals)
    r = float(residuals[1:] @ residuals[:-1]) / squares if squares > 0 else 0.0
    following = min(MOST_FOLLOWING, max(0.0, (n * r + 1) / (n - 4)))

    def innovations(each: Floats) -> Floats:
        return np.asarray(each[1:] - following * each[:-1])

    target = innovations(values)
    alone = float((_residuals(innovations(without), target) ** 2).sum())
    both = float((_residuals(innovations(columns), target) ** 2).sum())
    degrees = more.shape[1], len(target) - columns.shape[1]
    ratio = np.inf if both <= 0 else (alone - both) / degrees[0] / (both / degrees[1])
    return following, float(ratio), degrees, float(stats.f.sf(ratio, *degrees))


def _residuals(columns: Floats, values: Floats) -> Floats:
    fit, *_ = np.linalg.lstsq(columns, values, rcond=None)
    return np.asarray(values - columns @ fit)


def _profiles(values: Floats, places: Ints, cycles: Ints) -> list[tuple[Ints, Floats]]:
    """Return the places and the values of each full cycle, less its own straight line."""
    numbers, counts = np.unique(cycles, return_counts=True)
    full = (counts >= FEWEST_OF_CYCLE) & (counts >= SHARE_OF_CYCLE * np.median(counts))
    return [
        (places[cycles == number], _level(values[cycles == number])) for number in numbers[full]
    ]


def _foretold(profiles: list[tuple[Ints, Floats]]) -> tuple[Floats, Floats]:
    """Return the squares of each cycle, and of what is left without the mean of the others."""
    squares = np.zeros((2, len(profiles)))
    if not profiles:
        return squares[0], squares[1]
    length = max(int(places.max()) for places, _ in profiles) + 1
    counts = np.array([np.bincount(places, minlength=length) for places, _ in profiles])
    sums = np.array([np.bincount(places, own, length) for places, own in profiles])
    other_counts, other_sums = counts.sum(axis=0) - counts, sums.sum(axis=0) - sums
    for row, (places, own) in enumerate(profiles):
        known = other_counts[row, places] > 0
        told, held = places[known], own[known]
        if len(told) < FEWEST_OF_CYCLE - 1:
            continue
        means = _level(other_sums[row, told] / other_counts[row, told])
        squares[:, row] = (held**2).sum(), ((held - means) ** 2).sum()
    return squares[0], squares[1]


def _level(values: Floats) -> Floats:
    """Take the least-squares line over their order out of values, shape (n,), 2 or more."""
    x = np.arange(len(values), dtype=np.float64)
    line = fit_line(x, values)
    return np.asarray(values - line.start - line.slope * x)


def _mean_range(values: Floats) -> float:
    return float(np.abs(np.diff(values)).mean())
