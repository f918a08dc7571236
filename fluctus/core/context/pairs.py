"""Two series against each other: a line through the pairs, and how they go together with a lag.

Sources: N. R. Draper and H. Smith, *Applied Regression Analysis*, 3rd ed. (Wiley, 1998), for
the line; G. E. P. Box, G. M. Jenkins and G. C. Reinsel, *Time Series Analysis*, 3rd ed.
(Prentice Hall, 1994), for correlation with a lag and its band of noise, ±2 / sqrt(n), here with
the n of pairs that are independent.
"""

from dataclasses import dataclass
from typing import Final

import numpy as np

from fluctus.core.analysis.autocorrelation import following
from fluctus.core.analysis.limits import FACTORS
from fluctus.core.analysis.patterns import fit_line
from fluctus.core.analysis.settings import Spread
from fluctus.core.analysis.ties import varies
from fluctus.core.arrays import Bools, Floats, Ints
from fluctus.core.context.smoothing import trend_line

LONGEST_LAG: Final = 12
FEWEST: Final = 3
"""Fewer pairs have no line: any two lie on one."""


@dataclass(frozen=True, slots=True)
class Numbered:
    """Values by the number of their period: both shape (n,), periods in order, each once."""

    periods: Ints
    values: Floats


@dataclass(frozen=True, slots=True)
class Pairs:
    """Values of one series with those of another, so many periods later.

    ``first`` and ``second`` (n,) are their positions in the two series.
    """

    first: Ints
    second: Ints
    x: Floats
    y: Floats

    def __len__(self) -> int:
        return len(self.x)


@dataclass(frozen=True, slots=True)
class PairLine:
    """The least-squares line ``start + slope * x`` through n pairs.

    ``r_squared`` is the share of the variance of y that it explains, from 0 to 1. ``off`` (n,)
    marks the pairs that fall off it: residuals beyond ±2.660 of their mean moving range, in
    order of time.
    """

    start: float
    slope: float
    r_squared: float
    off: Bools


@dataclass(frozen=True, slots=True)
class LagPoint:
    """The correlation at a lag, over ``n`` pairs; ``noise`` is what chance leaves room for.

    ``effective`` is how many independent pairs say as much; where noise is above 1, nothing can
    be said.
    """

    lag: int
    n: int
    correlation: float | None
    noise: float | None
    effective: float | None


def pair_up(x: Numbered, y: Numbered, lag: int = 0) -> Pairs:
    """Pair each value of ``x`` with that of ``y`` so many periods later, where both are there."""
    _, first, second = np.intersect1d(
        x.periods + lag, y.periods, assume_unique=True, return_indices=True
    )
    return Pairs(first, second, x.values[first], y.values[second])


def correlation(pairs: Pairs) -> float | None:
    """Compute Pearson's r; None for too few pairs, or where one side does not vary."""
    if len(pairs) < FEWEST:
        return None
    if not (varies(pairs.x) and varies(pairs.y)):
        return None
    x, y = _away(pairs.x), _away(pairs.y)
    return float(np.clip(x @ y / (np.sqrt(x @ x) * np.sqrt(y @ y)), -1, 1))


def _away(values: Floats) -> Floats:
    """Return how far values that vary are from their mean, beside the furthest of them.

    Squares of what is very small or very large are none, or endless.
    """
    scaled = values / np.abs(values).max()
    away = scaled - scaled.mean()
    beside: Floats = away / np.abs(away).max()
    return beside


def effective_count(pairs: Pairs) -> float:
    """Return how many independent pairs say as much: n (1 - r1 r2) / (1 + r1 r2).

    Values that follow the ones before say less by their number: M. S. Bartlett, *JRSS* 98 (1935)
    536-543.
    """
    first, second = (following(side - side.mean()) for side in (pairs.x, pairs.y))
    return len(pairs) * (1 - first * second) / (1 + first * second)


def lag_curve(x: Numbered, y: Numbered, longest: int = LONGEST_LAG) -> list[LagPoint]:
    """Compute the correlation at each lag from 0 on."""
    points = []
    for lag in range(longest + 1):
        pairs = pair_up(x, y, lag)
        count, r = len(pairs), correlation(pairs)
        effective = None if r is None else effective_count(pairs)
        noise = None if effective is None else 2 / float(np.sqrt(effective))
        points.append(LagPoint(lag, count, r, noise, effective))
    return points


def line_through(pairs: Pairs) -> PairLine | None:
    """Fit y over x; None for too few pairs, or where x does not vary."""
    if len(pairs) < FEWEST or not varies(pairs.x):
        return None
    # From the middle, where large numbers lose no digits.
    middle = float(pairs.x.mean())
    fitted = trend_line(pairs.x - middle, pairs.y)
    assert fitted is not None, "there are pairs enough for a line"
    line, residuals = fitted.line, pairs.y - fitted.at(pairs.x - middle)
    factor, _ = FACTORS[Spread.MEAN_RANGE]
    room = factor * float(np.abs(np.diff(residuals)).mean())
    return PairLine(
        start=line.start - line.slope * middle,
        slope=line.slope,
        r_squared=fitted.r_squared or 0.0,
        off=(np.abs(residuals) > room) & (room > 0),
    )


def without_trend(series: Numbered) -> Numbered:
    """Take the least-squares line over time out of a series."""
    at = series.periods - series.periods.mean()
    line = fit_line(at, series.values)
    return Numbered(series.periods, series.values - line.start - line.slope * at)


def without_season(series: Numbered, places: Ints) -> Numbered:
    """Take the mean of each place of a season, shape (n,) numbered from 0, out of a series."""
    means = np.bincount(places, series.values) / np.maximum(1, np.bincount(places))
    return Numbered(series.periods, series.values - means[places])
