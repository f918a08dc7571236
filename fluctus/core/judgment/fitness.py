"""Whether values are fit for a chart of individual values: checks, each with its number.

Sources: D. J. Wheeler, *Making Sense of Data* (SPC Press, 2003), chapters on
chunky data and on rational subgrouping; D. J. Wheeler and D. S. Chambers,
*Understanding Statistical Process Control*, 2nd ed. (SPC Press, 1992), sec. 4.5
(inadequate measurement units); G. E. P. Box and G. M. Jenkins, *Time Series
Analysis* (1976), for the bounds of an autocorrelation.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.analysis.constants import (
    MEAN_RANGE_PER_SIGMA,
    MEAN_RANGE_TO_LIMITS,
    MEDIAN_RANGE_TO_LIMITS,
    MIN_VALUES_FOR_FIRM_LIMITS,
)
from fluctus.core.analysis.settings import Spread
from fluctus.core.arrays import Floats, median_reaches
from fluctus.core.shaping.running_totals import is_running_total

INFLATED: Final = 1.3
"""The mean moving range beyond this many times what the median implies is inflated."""
MOST_SET_ASIDE: Final = 0.1
SOME: Final = 1000
"""Values that are looked at first where few may tell."""
STANDARD_ERRORS: Final = 3.0
"""Averages of breakdowns further apart than this many standard errors are different."""


class Fitness(StrEnum):
    """What can make values unfit for a chart."""

    FEW_VALUES = "few_values"
    COARSE_STEP = "coarse_step"
    AUTOCORRELATION = "autocorrelation"
    INFLATED_LIMITS = "inflated_limits"
    MISSING_PERIODS = "missing_periods"
    MIXED_BREAKDOWNS = "mixed_breakdowns"
    RUNNING_TOTAL = "running_total"
    MANY_SET_ASIDE = "many_set_aside"


@dataclass(frozen=True, slots=True)
class Doubt:
    """A check that fails: the number behind it, and the one that it is held against."""

    check: Fitness
    number: float
    bound: float


def doubts_of(
    analysis: Analysis,
    *,
    missing_periods: int = 0,
    breakdowns: Mapping[str, Floats] | None = None,
) -> list[Doubt]:
    """Check the values of an analysis.

    Level and spread are judged on the last segment, since a shift is no fault of
    the values. ``missing_periods`` counts those between the first value and the
    last; ``breakdowns`` are the values of each, where several make up the chart.
    """
    series, last = analysis.series, analysis.segments[-1]
    last_settings = analysis.settings.segments[-1]
    span = slice(last.start, last.stop)
    included = series.included
    values = analysis.adjusted[span][included[span]]
    ranges = _ranges(analysis)
    verdicts: list[Doubt | None] = [
        _held(
            Fitness.FEW_VALUES,
            float(len(values)),
            MIN_VALUES_FOR_FIRM_LIMITS,
            fails=0 < len(values) < MIN_VALUES_FOR_FIRM_LIMITS,
        ),
        _coarse_step(values, last.spread),
        _autocorrelation(values),
        # Limits that come from the median range are not inflated, whatever the ranges.
        _inflated(ranges) if last_settings.spread is Spread.MEAN_RANGE else None,
        _held(Fitness.MISSING_PERIODS, float(missing_periods), 0, fails=missing_periods > 0),
        _mixed(breakdowns or {}),
        _running(series.values if series.complete else series.values[series.present]),
        _many_set_aside(int(series.present.sum()), int(included.sum())),
    ]
    return [doubt for doubt in verdicts if doubt is not None]


def _held(check: Fitness, number: float, bound: float, *, fails: bool) -> Doubt | None:
    return Doubt(check, number, bound) if fails else None


def _coarse_step(values: Floats, spread: float | None) -> Doubt | None:
    """The step between distinct values is larger than the spread / 1.128."""
    if spread is None:
        return None
    sigma = spread / MEAN_RANGE_PER_SIGMA
    # Some of them tell already that it is not: among more, the smallest step is no larger.
    for looked_at in (values[:SOME], values):
        different = np.unique(looked_at)
        if len(different) < 2:
            continue
        step = float(np.diff(different).min())
        if step <= sigma * (1 + 1e-9):
            return None
    return None if len(different) < 2 else Doubt(Fitness.COARSE_STEP, step, sigma)


def _autocorrelation(values: Floats) -> Doubt | None:
    """The lag-1 autocorrelation is beyond 2 / sqrt(n)."""
    if len(values) < 3:
        return None
    off = values - values.mean()
    total = float(off @ off)
    if total == 0:
        return None
    number, bound = float(off[1:] @ off[:-1]) / total, 2 / math.sqrt(len(values))
    return _held(Fitness.AUTOCORRELATION, number, bound, fails=abs(number) > bound)


def _ranges(analysis: Analysis) -> Floats:
    """Return the moving ranges of the last segment that take part."""
    last, series = analysis.segments[-1], analysis.series
    if series.complete:
        return analysis.moving_ranges[last.start + 1 :]
    present = np.flatnonzero(series.present)
    present = present[present >= last.start]
    kept = series.included[present]
    both = kept[1:] & kept[:-1]
    return analysis.moving_ranges[present[1:][both]]


def _inflated(ranges: Floats) -> Doubt | None:
    """The mean moving range is over 1.3 times what the median moving range implies."""
    if len(ranges) < 2:
        return None
    times, mean = MEDIAN_RANGE_TO_LIMITS / MEAN_RANGE_TO_LIMITS, float(ranges.mean())
    if median_reaches(ranges, mean / (INFLATED * times)):
        return None
    implied = float(np.median(ranges)) * times
    if implied == 0:
        return None
    number = mean / implied
    return _held(Fitness.INFLATED_LIMITS, number, INFLATED, fails=number > INFLATED)


def _mixed(breakdowns: Mapping[str, Floats]) -> Doubt | None:
    """The averages of two breakdowns are further apart than chance has it."""
    parts = [part for part in breakdowns.values() if len(part) > 1]
    if len(parts) < 2:
        return None
    parts.sort(key=lambda part: float(part.mean()))
    low, high = parts[0], parts[-1]
    error = math.sqrt(low.var(ddof=1) / len(low) + high.var(ddof=1) / len(high))
    apart = float(high.mean() - low.mean())
    number = apart / error if error else (math.inf if apart else 0.0)
    return _held(Fitness.MIXED_BREAKDOWNS, number, STANDARD_ERRORS, fails=number > STANDARD_ERRORS)


def _running(values: Floats) -> Doubt | None:
    if not is_running_total(values, np.zeros(len(values), np.intp)):
        return None
    return Doubt(Fitness.RUNNING_TOTAL, float(np.mean(np.diff(values) >= 0)), 1.0)


def _many_set_aside(present: int, included: int) -> Doubt | None:
    share = 1 - included / present if present else 0.0
    return _held(Fitness.MANY_SET_ASIDE, share, MOST_SET_ASIDE, fails=share > MOST_SET_ASIDE)
