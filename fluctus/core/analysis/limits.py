"""Natural process limits, per segment, from the values of its limit window."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from fluctus.core.analysis import constants
from fluctus.core.analysis.layout import Choices, Layout
from fluctus.core.analysis.settings import Spread
from fluctus.core.arrays import Bools, Floats, Ints, sum_slices


class Firmness(StrEnum):
    """How much data the limits of a segment rest on."""

    NONE = "none"
    PROVISIONAL = "provisional"
    FIRM = "firm"


FACTORS: Final = {
    Spread.MEAN_RANGE: (constants.MEAN_RANGE_TO_LIMITS, constants.MEAN_RANGE_TO_RANGE_LIMIT),
    Spread.MEDIAN_RANGE: (constants.MEDIAN_RANGE_TO_LIMITS, constants.MEDIAN_RANGE_TO_RANGE_LIMIT),
}
"""What the spread is multiplied with for the limits and for the range limit."""


@dataclass(frozen=True, slots=True)
class Limits:
    """Limits of all segments, arrays of shape (s,), in the KPI's unit.

    ``upper`` and ``lower`` are as drawn, held at the natural bounds;
    ``sigma`` comes from the unclipped limits. NaN where a number does not
    exist. A clipped limit cannot be exceeded.
    """

    n: Ints
    centre: Floats
    spread: Floats
    upper: Floats
    lower: Floats
    range_limit: Floats
    sigma: Floats
    upper_clipped: Bools
    lower_clipped: Bools

    @property
    def exist(self) -> Bools:
        """Where a segment has limits, shape (s,)."""
        return ~np.isnan(self.sigma)


def firmness(n: int, *, has_limits: bool) -> Firmness:
    """Describe how firm limits from ``n`` included values are."""
    if not has_limits:
        return Firmness.NONE
    return Firmness.FIRM if n >= constants.MIN_VALUES_FOR_FIRM_LIMITS else Firmness.PROVISIONAL


def compute_limits(layout: Layout, choices: Choices) -> Limits:
    """Compute the limits of every segment of ``layout``.

    Centre: mean or median of the window's included values. Spread: mean or
    median of the moving ranges whose two values are both in the window.
    Limits: centre ± 2.660 (3.145) x spread; upper range limit: 3.268 (3.865) x
    spread. Source of the factors: see ``constants``.
    """
    starts, stops = layout.windows[:, 0], layout.windows[:, 1]
    n = stops - starts
    with np.errstate(invalid="ignore", divide="ignore"):
        centre = sum_slices(layout.included, starts, stops) / n
        spread, range_count = _mean_ranges(layout, starts, stops)
    for segment in np.flatnonzero(choices.median_centre & (n > 0)).tolist():
        centre[segment] = np.median(layout.included[starts[segment] : stops[segment]])
    median_range = choices.median_range & (range_count > 0)
    for segment in np.flatnonzero(median_range).tolist():
        inside = layout.included_ranges[starts[segment] + 1 : stops[segment]]
        spread[segment] = np.median(inside[~np.isnan(inside)])
    has_limits = (n >= constants.MIN_VALUES_FOR_LIMITS) & (range_count > 0) & ~choices.holds
    spread[~has_limits] = np.nan
    to_limits, to_range_limit = (
        np.where(median_range, by_median, by_mean)
        for by_median, by_mean in zip(
            FACTORS[Spread.MEDIAN_RANGE], FACTORS[Spread.MEAN_RANGE], strict=True
        )
    )
    half_width = to_limits * spread
    upper, lower = centre + half_width, centre - half_width
    floor, ceiling = choices.floor, choices.ceiling
    return Limits(
        n=n,
        centre=centre,
        spread=spread,
        upper=np.minimum(upper, ceiling),
        lower=np.maximum(lower, floor),
        range_limit=to_range_limit * spread,
        sigma=half_width / 3,
        upper_clipped=upper > ceiling,
        lower_clipped=lower < floor,
    )


def _mean_ranges(layout: Layout, starts: Ints, stops: Ints) -> tuple[Floats, Ints]:
    # The first value of a window has its partner outside, so its range is not the window's.
    firsts = np.minimum(starts + 1, stops)
    if layout.positions is None:
        count = stops - firsts
        return sum_slices(layout.included_ranges, firsts, stops) / count, count
    valid = ~np.isnan(layout.included_ranges)
    summed = sum_slices(np.where(valid, layout.included_ranges, 0.0), firsts, stops)
    # Differences of running counts are whole numbers, so nothing is lost here.
    running = np.concatenate(([0], np.cumsum(valid)))
    count = (running[stops] - running[firsts]).astype(np.intp)
    return summed / count, count
