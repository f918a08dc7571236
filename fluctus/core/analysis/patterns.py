"""Trended and seasonal limits: values are judged with their pattern taken out.

A pattern gives each position an ``offset`` and a ``scale``. Values are judged
as (value - offset) / scale, at the level of the segment's average, and what is
found there is drawn back as level * scale + offset. Limits that follow nothing
are the case of offset 0 and scale 1.

Sources: D. J. Wheeler, *Making Sense of Data* (SPC Press, 2003), chapters on
trended and on seasonal data, for the line through the values with the moving
ranges of the residuals, and for seasonal relatives.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fluctus.core.analysis.constants import MIN_VALUES_FOR_LIMITS
from fluctus.core.analysis.series import Series
from fluctus.core.analysis.settings import Pattern, Season, SegmentSettings, Settings
from fluctus.core.arrays import Bools, Floats, Ints

FEWEST_CYCLES = 2


class UnfitPatternError(ValueError):
    """A pattern that the values of a segment cannot carry; ``segment`` is its number."""

    def __init__(self, segment: int, text: str) -> None:
        super().__init__(text)
        self.segment = segment


@dataclass(frozen=True, slots=True)
class Trend:
    """A least-squares line: its height at a segment's first position, and its rise a period."""

    start: float
    slope: float


@dataclass(frozen=True, slots=True, eq=False)
class Relatives:
    """What a season does at each of its places, shape (length,): ratios, or differences."""

    each: Floats
    are_ratios: bool


@dataclass(frozen=True, slots=True, eq=False)
class Followed:
    """What the limits of one series follow: ``offset`` and ``scale`` of shape (n,).

    ``fits`` has for each segment its line, its seasonal relatives, or None;
    ``next_offset`` and ``next_scale`` are those of the period after the last.
    """

    offset: Floats
    scale: Floats
    next_offset: float
    next_scale: float
    fits: tuple[Trend | Relatives | None, ...]

    def drawn(self, levels: Floats) -> Floats:
        """Draw judged levels, shape (n,), back on the scale of the values."""
        return levels * self.scale + self.offset


def follow(series: Series, settings: Settings) -> Followed | None:
    """Fit the patterns of all segments; None where every segment is level.

    Raises UnfitPatternError for a line through fewer than 5 values, and a season
    of which a place has values in fewer than two cycles.
    """
    if all(segment.pattern is Pattern.LEVEL for segment in settings.segments):
        return None
    n = len(series)
    offset, scale = np.zeros(n), np.ones(n)
    next_offset, next_scale = 0.0, 1.0
    fits: list[Trend | Relatives | None] = []
    stops = [*(segment.start for segment in settings.segments[1:]), n]
    for number, (segment, stop) in enumerate(zip(settings.segments, stops, strict=True)):
        fits.append(None)
        next_offset, next_scale = 0.0, 1.0
        span = slice(segment.start, stop)
        included = _window(series.included, segment, stop)
        if segment.pattern is Pattern.TREND:
            line, mean = _line(series.values, included, segment.start, number)
            rise = line.start + line.slope * np.arange(stop - segment.start + 1) - mean
            offset[span], next_offset, fits[-1] = rise[:-1], float(rise[-1]), line
        elif segment.pattern is Pattern.SEASON:
            assert segment.season is not None, "settings of a season bring it"
            relatives = seasonal_relatives(series.values, included, segment.season, number)
            each, following = relatives.each, segment.season.following
            if relatives.are_ratios:
                scale[span], next_scale = each[segment.season.places[span]], float(each[following])
            else:
                offset[span], next_offset = (
                    each[segment.season.places[span]],
                    float(each[following]),
                )
            fits[-1] = relatives
    return Followed(offset, scale, next_offset, next_scale, tuple(fits))


def _window(included: Bools, segment: SegmentSettings, stop: int) -> Ints:
    """Return the included positions of a segment's limit window."""
    first, last = segment.window or (segment.start, stop)
    return np.flatnonzero(included[first:last]).astype(np.intp) + first


def _line(values: Floats, positions: Ints, start: int, segment: int) -> tuple[Trend, float]:
    if len(positions) < MIN_VALUES_FOR_LIMITS:
        raise UnfitPatternError(
            segment, f"A line needs {MIN_VALUES_FOR_LIMITS} values; there are {len(positions)}."
        )
    x, y = positions - start, values[positions]
    return fit_line(x.astype(np.float64), y), float(y.mean())


def fit_line(x: Floats, y: Floats) -> Trend:
    """Fit a least-squares line to ``y`` over ``x``, both of shape (n,) with n of 2 or more."""
    off = x - x.mean()
    slope = float(off @ (y - y.mean())) / float(off @ off)
    return Trend(float(y.mean()) - slope * float(x.mean()), slope)


def seasonal_relatives(
    values: Floats, positions: Ints, season: Season, segment: int = 0
) -> Relatives:
    """Compute the relative of each place in the cycle: mean of its values by mean of all.

    ``positions`` are those of the values to take. Where one of them is zero or below, relatives
    are differences, of average 0; else ratios, of average 1. Raises UnfitPatternError as
    ``follow`` does.
    """
    places, members = season.places[positions], values[positions]
    first, last = season.cycles.min(), season.cycles.max()
    counts = np.bincount(
        (season.cycles[positions] - first) * season.length + places,
        minlength=(last - first + 1) * season.length,
    ).reshape(-1, season.length)
    if np.count_nonzero(counts, axis=0).min() < FEWEST_CYCLES:
        raise UnfitPatternError(
            segment, f"A season needs {FEWEST_CYCLES} full cycles of values; there are fewer."
        )
    means = np.bincount(places, members, season.length) / np.bincount(
        places, minlength=season.length
    )
    if members.min() > 0:
        ratios = means / members.mean()
        return Relatives(np.asarray(ratios * season.length / ratios.sum()), are_ratios=True)
    differences = means - members.mean()
    return Relatives(np.asarray(differences - differences.mean()), are_ratios=False)


def adjusted(series: Sequence[Series], followed: Sequence[Followed | None]) -> list[Series]:
    """Return the series with their patterns taken out; those without one as they are."""
    return [
        single
        if pattern is None
        else Series((single.values - pattern.offset) / pattern.scale, single.set_aside)
        for single, pattern in zip(series, followed, strict=True)
    ]
