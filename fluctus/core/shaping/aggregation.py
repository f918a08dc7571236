"""Many values of a period become one: by sum, mean, median and the like, or ratio of sums."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from fluctus.core.arrays import Floats, Ints


class Aggregation(StrEnum):
    """How the values of a period become one."""

    SUM = "sum"
    MEAN = "mean"
    MEDIAN = "median"
    MINIMUM = "minimum"
    MAXIMUM = "maximum"
    FIRST = "first"
    LAST = "last"
    COUNT = "count"
    RATIO = "ratio"


AGGREGATION_NAMES = {
    Aggregation.SUM: "their sum",
    Aggregation.MEAN: "their mean",
    Aggregation.MEDIAN: "their median",
    Aggregation.MINIMUM: "the lowest",
    Aggregation.MAXIMUM: "the highest",
    Aggregation.FIRST: "the first",
    Aggregation.LAST: "the last",
    Aggregation.COUNT: "how many there are",
    Aggregation.RATIO: "ratio of their sums",
}


@dataclass(frozen=True, slots=True)
class Parts:
    """What is to become one value for each period, in time order within each; all shapes (n,).

    ``rows`` is how many rows of the source each value already stands for, so
    that a mean of means is the mean of the rows. ``numerators`` and
    ``denominators`` are used by the ratio alone.
    """

    values: Floats
    rows: Ints
    numerators: Floats
    denominators: Floats


def aggregate(parts: Parts, edges: Ints, how: Aggregation) -> Parts:
    """Turn each stretch ``edges[i]:edges[i + 1]`` of ``parts`` into one value.

    ``edges`` (g + 1) start at 0, end at n and leave no stretch empty. A
    missing value (NaN) takes no part; a stretch of them alone stays missing,
    except that a count of it is 0. A ratio is the sum of the numerators by the
    sum of the denominators, never the mean of ratios; by 0 it is missing.
    Returns ``Parts`` of shape (g,). ``COUNT`` counts rows; counts already made
    are added up, see ``coarser``.
    """
    starts = edges[:-1]
    if len(starts) == 0:
        return parts
    numerators = _sums(parts.numerators, starts)
    denominators = _sums(parts.denominators, starts)
    present = ~np.isnan(parts.values)
    rows = np.add.reduceat(np.where(present, parts.rows, 0), starts).astype(np.intp)
    if how is Aggregation.RATIO:
        values = np.full(len(starts), np.nan)
        np.divide(numerators, denominators, out=values, where=denominators != 0)
        rows = np.add.reduceat(parts.rows, starts).astype(np.intp)
    elif how is Aggregation.COUNT:
        values = rows.astype(np.float64)
    else:
        values = _COMPUTE[how](parts, edges)
    return Parts(values, rows, numerators, denominators)


def coarser(how: Aggregation) -> Aggregation:
    """Return how values that were made by ``how`` become those of a coarser grain."""
    return Aggregation.SUM if how is Aggregation.COUNT else how


def _sums(values: Floats, starts: Ints) -> Floats:
    """Sum each stretch; NaN where nothing in it is present."""
    present = ~np.isnan(values)
    sums = np.add.reduceat(np.where(present, values, 0.0), starts)
    sums[np.add.reduceat(present.astype(np.intp), starts) == 0] = np.nan
    return np.asarray(sums)


def _sum(parts: Parts, edges: Ints) -> Floats:
    return _sums(parts.values, edges[:-1])


def _mean(parts: Parts, edges: Ints) -> Floats:
    weights = np.where(np.isnan(parts.values), np.nan, parts.rows.astype(np.float64))
    return np.asarray(_sums(parts.values * weights, edges[:-1]) / _sums(weights, edges[:-1]))


def _in_order(parts: Parts, edges: Ints) -> tuple[Floats, Ints, Ints]:
    """Sort the values within each stretch, missing ones last, and count those present."""
    group = np.repeat(np.arange(len(edges) - 1), np.diff(edges))
    ordered = parts.values[np.lexsort((parts.values, group))]
    counts = np.add.reduceat((~np.isnan(parts.values)).astype(np.intp), edges[:-1])
    return ordered, edges[:-1], counts.astype(np.intp)


def _median(parts: Parts, edges: Ints) -> Floats:
    ordered, starts, counts = _in_order(parts, edges)
    low = starts + np.maximum(counts - 1, 0) // 2
    high = starts + np.minimum(counts // 2, np.maximum(counts - 1, 0))
    return np.asarray(ordered[low] + (ordered[high] - ordered[low]) / 2)


def _minimum(parts: Parts, edges: Ints) -> Floats:
    return np.asarray(np.fmin.reduceat(parts.values, edges[:-1]))


def _maximum(parts: Parts, edges: Ints) -> Floats:
    return np.asarray(np.fmax.reduceat(parts.values, edges[:-1]))


def _first(parts: Parts, edges: Ints) -> Floats:
    return _at_end(parts.values, edges, last=False)


def _last(parts: Parts, edges: Ints) -> Floats:
    return _at_end(parts.values, edges, last=True)


def _at_end(values: Floats, edges: Ints, *, last: bool) -> Floats:
    """Return the first or last present value of each stretch."""
    present = np.flatnonzero(~np.isnan(values))
    result = np.full(len(edges) - 1, np.nan)
    low, high = np.searchsorted(present, edges[:-1]), np.searchsorted(present, edges[1:])
    some = high > low
    result[some] = values[present[(high[some] - 1) if last else low[some]]]
    return result


_COMPUTE = {
    Aggregation.SUM: _sum,
    Aggregation.MEAN: _mean,
    Aggregation.MEDIAN: _median,
    Aggregation.MINIMUM: _minimum,
    Aggregation.MAXIMUM: _maximum,
    Aggregation.FIRST: _first,
    Aggregation.LAST: _last,
}
