"""What speaks for limits that follow a trend or a season: proposed only on its evidence.

Values that wander, step or fade look seasonal over a few cycles, and rising over a few years. So
what follows from the value before is taken out of the values first, and the cycles have to
foretell each other.

Sources: N. R. Draper and H. Smith, *Applied Regression Analysis*, 3rd ed. (Wiley, 1998), for R²
and the F test of several coefficients; M. Stone, *JRSS B* 36 (1974) 111-147, for what is foretold
by what was left out.
"""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy import stats

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.analysis.autocorrelation import made_up
from fluctus.core.analysis.constants import MEAN_RANGE_PER_SIGMA, MIN_VALUES_FOR_FIRM_LIMITS
from fluctus.core.analysis.patterns import (
    Relatives,
    UnfitPatternError,
    fit_line,
    seasonal_relatives,
)
from fluctus.core.analysis.settings import Season
from fluctus.core.analysis.ties import varies
from fluctus.core.arrays import Floats, Ints, taken
from fluctus.core.judgment.candidates import SEARCHED
from fluctus.core.judgment.change_points import change_points
from fluctus.core.judgment.regression import Design

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
MOST_WEIGHED: Final = 20_000
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
    positions = analysis.included_in(len(analysis.segments) - 1)
    return weigh_trend(taken(analysis.series.values, positions), positions)


def proposed_trend(values: Floats, positions: Ints) -> TrendEvidence | None:
    """Return the evidence of a line that is proposed; None for one that is not.

    Steps are looked for only where all else speaks for a line: that is what takes long.
    """
    values, positions = values[-SEARCHED:], positions[-SEARCHED:]
    if len(values) < MIN_VALUES_FOR_FIRM_LIMITS or not varies(values):
        return None
    x = (positions - positions[0]).astype(np.float64)
    if np.corrcoef(x, values)[0, 1] ** 2 < LEAST_R_SQUARED * (1 - 1e-9):
        return None
    found = weigh_trend(values, positions)
    return found if found is not None and found.proposed else None


def weigh_trend(values: Floats, positions: Ints) -> TrendEvidence | None:
    """Weigh a line through values at some positions, both of shape (n,), against steps."""
    values, positions = values[-SEARCHED:], positions[-SEARCHED:]
    if len(values) < MIN_VALUES_FOR_FIRM_LIMITS or not varies(values):
        return None
    off = values - values.mean()
    total = float(off @ off)
    if total == 0.0:
        return None  # They vary by so little that their squares vanish.
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
    level = np.ones(len(values))
    _, _, _, chance = _held_against(
        values, Design(level[:, None]), Design(np.column_stack((level, x)))
    )
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
    positions = analysis.included_in(len(analysis.segments) - 1)
    return weigh_season(analysis.series.values, positions, season)


def weigh_season(
    values: Floats, positions: Ints, season: Season, *, likely_only: bool = False
) -> SeasonEvidence | None:
    """Weigh a season in the values at some positions; None where they are too few for one.

    ``likely_only`` returns None as well where its places do not differ by more than chance, without
    looking at the cycles.
    """
    positions = positions[-MOST_WEIGHED:]
    relatives = _relatives(values, positions, season)
    if relatives is None:
        return None
    places, members = season.places[positions], values[positions]
    cycles = season.cycles[positions]
    test = season_test(members, places, cycles, season.length, likely_only=likely_only)
    if test is None:
        return None
    counts = np.bincount(places, minlength=season.length)
    means = np.bincount(places, members, season.length) / counts
    total = float(((members - members.mean()) ** 2).sum())
    between = float((counts * (means - members.mean()) ** 2).sum())
    return SeasonEvidence(
        tuple(relatives.each.tolist()), relatives.are_ratios, between / total, test
    )


def season_test(
    values: Floats, places: Ints, cycles: Ints, length: int, *, likely_only: bool = False
) -> SeasonTest | None:
    """Test the places and the cycles of values for a season; all of shape (n,).

    None where nothing varies, or a regression on so many places leaves nothing free; with
    ``likely_only`` where the places say enough against it.
    """
    n = len(values)
    if _free(n, length) < 1 or not varies(values):
        return None
    order = np.arange(n, dtype=np.float64)[:, None] - (n - 1) / 2
    following, ratio, degrees, chance = _held_against(
        values, Design(np.column_stack((np.ones(n), order))), Design(order, places, length)
    )
    if likely_only and chance >= LEAST_CHANCE:
        return None
    before, after = _foretold(values, places, cycles)
    fall = 1 - after.sum() / before.sum() if before.sum() > 0 else 0.0
    foretold = int((after < before).sum())
    return SeasonTest(following, ratio, degrees, chance, len(before), foretold, float(fall))


def _free(n: int, length: int) -> int:
    """Return the degrees of freedom that a line and the places of a season leave of n values."""
    return n - 1 - (length + 1)


def can_carry(values: Floats, positions: Ints, season: Season) -> bool:
    """Tell whether values at some positions are enough for a season, whatever speaks for it."""
    newest = positions[-MOST_WEIGHED:]
    return _free(len(newest), season.length) >= 1 and _relatives(values, newest, season) is not None


def _relatives(values: Floats, positions: Ints, season: Season) -> Relatives | None:
    try:
        return seasonal_relatives(values, positions, season) if len(positions) else None
    except UnfitPatternError:
        return None


def _held_against(
    values: Floats, without: Design, columns: Design
) -> tuple[float, float, tuple[int, int], float]:
    """Test whether ``columns`` explain values (n,) beyond those ``without`` them.

    First-order autocorrelation is taken out of both. Returns it, the F ratio, its degrees of
    freedom, and its chance.
    """
    n, residuals = len(values), columns.residuals(values)
    squares = float(residuals @ residuals)
    r = float(residuals[1:] @ residuals[:-1]) / squares if squares > 0 else 0.0
    following = made_up(r, n, spent=4, most=MOST_FOLLOWING)
    alone = float((without.residuals(values, following) ** 2).sum())
    both = float((columns.residuals(values, following) ** 2).sum())
    degrees = columns.numbers - without.numbers, n - 1 - columns.numbers
    ratio = np.inf if both <= 0 else (alone - both) / degrees[0] / (both / degrees[1])
    return following, float(ratio), degrees, float(stats.f.sf(ratio, *degrees))


def _foretold(values: Floats, places: Ints, cycles: Ints) -> tuple[Floats, Floats]:
    """Return the squares of each full cycle, and of what is left without the mean of the others.

    Of each cycle, less its own straight line; so is the mean of the others, over the values of
    the cycle that they have the place of.
    """
    _, of, counts = np.unique(cycles, return_inverse=True, return_counts=True)
    full = (counts >= FEWEST_OF_CYCLE) & (counts >= SHARE_OF_CYCLE * np.median(counts))
    chosen = full[of]
    # Numbered anew, without the cycles that are not full.
    of, places = (np.cumsum(full) - 1)[of[chosen]], places[chosen]
    count, length = int(full.sum()), int(places.max(initial=0)) + 1
    own = _less_their_lines(values[chosen], of, count)
    cells = of * length + places
    present = np.bincount(cells, minlength=count * length).reshape(count, length)
    sums = np.bincount(cells, own, count * length).reshape(count, length)
    other = present.sum(axis=0) - present
    known = other[of, places] > 0
    # A line through two or three leaves next to nothing to be foretold.
    known &= (np.bincount(of[known], minlength=count) >= FEWEST_OF_CYCLE - 1)[of]
    of, places, own = of[known], places[known], own[known]
    means = (sums.sum(axis=0) - sums)[of, places] / other[of, places]
    told = _less_their_lines(means, of, count)
    before, after = np.bincount(of, own**2, count), np.bincount(of, (own - told) ** 2, count)
    return np.asarray(before, np.float64), np.asarray(after, np.float64)


def _less_their_lines(values: Floats, of: Ints, count: int) -> Floats:
    """Take out of each group of values its least-squares line over their order, shape (n,).

    ``of`` numbers the groups, which follow each other, from 0 to ``count``.
    """
    sizes = np.bincount(of, minlength=count)
    starts = np.cumsum(sizes) - sizes
    x = np.arange(len(values)) - starts[of] - (sizes[of] - 1) / 2
    size = np.maximum(sizes, 1)
    means = np.bincount(of, values, count) / size
    off = values - means[of]
    squares = np.bincount(of, x * x, count)
    slopes = np.bincount(of, x * off, count) / np.where(squares > 0, squares, 1)
    return np.asarray(off - slopes[of] * x)


def _mean_range(values: Floats) -> float:
    return float(np.abs(np.diff(values)).mean())
