"""Averages over time and straight lines, drawn over the values they are made from."""

from dataclasses import dataclass

import numpy as np

from fluctus.core.analysis.patterns import Trend, fit_line
from fluctus.core.arrays import Bools, Floats, Ints, indices_of_slices


@dataclass(frozen=True, slots=True, eq=False)
class Windows:
    """For each of n values the included ones that an average over time takes.

    Those from ``starts`` to ``stops`` (n,) of the ``included`` ones, by their place among these;
    where ``full`` (n,) is false, there is no average: too few have come, or the value is not
    included itself.
    """

    included: Bools
    starts: Ints
    stops: Ints
    full: Bools


def last_values(included: Bools, count: int) -> Windows:
    """Take the last ``count`` included values, the value itself being the last one.

    Raises ValueError for a count below 1.
    """
    if count < 1:
        raise ValueError(f"an average needs at least one value, not {count}")
    stops = np.cumsum(included).astype(np.intp)
    starts = np.maximum(stops - count, 0)
    return Windows(included, starts, stops, included & (stops >= count))


def last_stretch(included: Bools, instants: Floats, length: float, period: float) -> Windows:
    """Take the included values of the last ``length`` seconds, the value's own period being in it.

    ``instants`` (n,) are the starts of periods of about ``period`` seconds. A period belongs to a
    stretch that holds more than half of it, so that clock changes and months of 30 days move
    nothing. Raises ValueError for a length that is not positive.
    """
    if length <= 0:
        raise ValueError(f"an average needs a length of time, not {length}")
    own = instants[included]
    since = instants + period / 2 - max(length, period)
    starts = np.searchsorted(own, since).astype(np.intp)
    stops = np.cumsum(included).astype(np.intp)
    begun = since >= instants[0] - period if len(instants) else np.zeros(0, np.bool_)
    return Windows(included, starts, stops, included & begun & (stops > starts))


MOST_GATHERED = 20_000_000
"""Values in all windows together up to which each window is summed by itself, exactly."""


def moving_average(values: Floats, windows: Windows) -> Floats:
    """Compute the mean of each window, shape (n,); NaN where it is not full."""
    return _spread_out(_moments(values, windows)[0], windows)


def moving_deviation(values: Floats, windows: Windows) -> Floats:
    """Compute the sample standard deviation (n - 1) of each window, shape (n,).

    NaN where it is not full, or holds a single value.
    """
    _, squares, counts = _moments(values, windows)
    with np.errstate(invalid="ignore", divide="ignore"):
        deviation = np.sqrt(squares / (counts - 1))
    return _spread_out(np.where(counts > 1, deviation, np.nan), windows)


def _moments(values: Floats, windows: Windows) -> tuple[Floats, Floats, Ints]:
    """Return mean, sum of squares from it, and count of each full window, all (k,)."""
    own = values[windows.included]
    starts, stops = windows.starts[windows.full], windows.stops[windows.full]
    counts = stops - starts
    if not len(counts):
        return np.zeros(0), np.zeros(0), counts
    if counts.sum() <= MOST_GATHERED:
        gathered = own[indices_of_slices(starts, stops)]
        heads = np.cumsum(counts) - counts
        mean = np.add.reduceat(gathered, heads) / counts
        squares = np.add.reduceat((gathered - np.repeat(mean, counts)) ** 2, heads)
        return mean, squares, counts
    # Running sums of long windows, from the middle of all and in more digits than a double has.
    off = (own - own.mean()).astype(np.longdouble)
    running, of_squares = (np.concatenate(([0], np.cumsum(off**power))) for power in (1, 2))
    sums = running[stops] - running[starts]
    squares = of_squares[stops] - of_squares[starts] - sums**2 / counts
    mean = own.mean() + sums / counts
    return mean.astype(np.float64), np.maximum(squares, 0).astype(np.float64), counts


def _spread_out(results: Floats, windows: Windows) -> Floats:
    spread = np.full(len(windows.full), np.nan)
    spread[windows.full] = results
    return spread


@dataclass(frozen=True, slots=True)
class TrendLine:
    """A least-squares line over the periods of a stretch, counted from its first one.

    ``r_squared`` is the share of the variance that it explains, from 0 to 1; None where the
    values are all equal.
    """

    line: Trend
    r_squared: float | None

    def at(self, periods: Floats) -> Floats:
        """Return its height at some periods, shape (n,)."""
        return self.line.start + self.line.slope * periods


def trend_line(periods: Floats, values: Floats) -> TrendLine | None:
    """Fit a line to ``values`` over their ``periods``, both (n,); None for fewer than two."""
    if len(values) < 2:
        return None
    line = fit_line(periods, values)
    spread = float(((values - values.mean()) ** 2).sum())
    left = float(((values - line.start - line.slope * periods) ** 2).sum())
    return TrendLine(line, None if spread == 0 else max(0.0, 1 - left / spread))


def group_means(values: Floats, included: Bools, groups: Floats) -> Floats:
    """Compute the mean of the included values of each group, at each of its values, shape (n,).

    ``groups`` (n,) names the group of each; a group without an included value has NaN.
    """
    _, group = np.unique(groups, return_inverse=True)
    count = np.bincount(group[included], minlength=group.max(initial=-1) + 1)
    total = np.bincount(group[included], values[included], minlength=len(count))
    with np.errstate(invalid="ignore", divide="ignore"):
        means = np.where(count > 0, total / count, np.nan)
    return np.asarray(means[group], np.float64)
