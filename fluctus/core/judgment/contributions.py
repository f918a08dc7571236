"""What made a value what it is: by how much each part moved it, so that the parts add up.

A difference is shared out among the parts of a sum, of a weighted mean, or of a ratio. Of a ratio
each part moves the whole by its rate and by its weight among the denominators; the symmetrical
form leaves nothing over: E. M. Kitagawa, "Components of a Difference Between Two Rates",
*Journal of the American Statistical Association* 50 (1955) 1168-1194.
"""

from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

import numpy as np
from scipy.stats import t

from fluctus.core.analysis.constants import (
    MEAN_RANGE_PER_SIGMA,
    MEAN_RANGE_TO_LIMITS,
    MIN_VALUES_FOR_LIMITS,
)
from fluctus.core.analysis.finders import Side
from fluctus.core.arrays import Bools, Floats

BY_CHANCE: Final = 0.05
"""Chance that any of so many ordinary parts would stand out."""
LEAST_SIGMAS: Final = 3.0
DEGREES_A_RANGE: Final = 0.62
"""Degrees of freedom that each moving range of an average adds: D. J. Wheeler, *Advanced Topics
in Statistical Process Control* (SPC Press, 1995)."""


class Whole(StrEnum):
    """How parts make the whole."""

    SUM = "sum"
    MEAN = "mean"
    RATIO = "ratio"


@dataclass(frozen=True, slots=True, eq=False)
class PartTable:
    """The values of m parts in p periods, shapes (m, p); NaN where a part has none.

    ``amounts`` are the values of a sum, the values times their weights of a mean, the numerators
    of a ratio; ``weights`` are the weights of a mean and the denominators of a ratio, and of no
    use to a sum.
    """

    whole: Whole
    amounts: Floats
    weights: Floats


@dataclass(frozen=True, slots=True, eq=False)
class WhatMadeIt:
    """By how much each of m parts moved the whole from ``usual`` to ``value``; shapes (m,).

    ``brought`` is ``rate`` + ``weight``, and adds up to ``value`` - ``usual``; of sums the weight
    is 0. ``spread`` is the sigma of what a part brings ordinarily, NaN where that is not known;
    ``now`` and ``before`` are a part's own value, or rate, NaN where it has none. ``beyond`` is
    the side of its own limits that a part is on: 1 above, -1 below, 0 within or without limits.
    ``stands_out`` tells what no part of so many would bring by chance.
    """

    usual: float
    value: float
    rate: Floats
    weight: Floats
    spread: Floats
    now: Floats
    before: Floats
    beyond: Floats
    stands_out: Bools

    @property
    def brought(self) -> Floats:
        """What each part brought, shape (m,)."""
        return self.rate + self.weight

    @property
    def ordinary(self) -> Bools:
        """Which parts moved no more than their ordinary spread, and are summed as the others."""
        within = np.abs(self.brought) <= self.spread
        return np.asarray((within | (self.brought == 0)) & (self.beyond == 0) & ~self.stands_out)

    @property
    def concentration(self) -> float:
        """How much of the movement few parts made: 0 where all made the same, 1 where one did."""
        sizes = np.abs(self.brought)
        total, m = float(sizes.sum()), len(sizes)
        if m < 2 or total == 0:
            return 0.0
        shares = sizes / total
        return (float(shares @ shares) - 1 / m) / (1 - 1 / m)

    def side_of(self, part: int) -> Side:
        """Return the side of its own limits that a part is on."""
        return Side(int(self.beyond[part]))


def ratio_parts(
    numerators: Floats, denominators: Floats, numerators_before: Floats, denominators_before: Floats
) -> tuple[Floats, Floats]:
    """Share the difference of two ratios of sums out among m parts, all shapes (m,).

    Returns what the rate and the weight of each part gave: of rate r and share w of the
    denominators, (r - r0) (w + w0) / 2 and (w - w0) ((r + r0) / 2 - R0), with R0 the ratio of all
    before. A part that came or went counts with its whole, as weight. Raises ValueError where the
    denominators of a side sum to 0.
    """
    total, total_before = float(denominators.sum()), float(denominators_before.sum())
    if total == 0 or total_before == 0:
        raise ValueError("a ratio by 0 is none")
    share, share_before = denominators / total, denominators_before / total_before
    rate, rate_before = (
        np.divide(above, below, out=np.full(len(above), np.nan), where=below != 0)
        for above, below in (
            (numerators, denominators),
            (numerators_before, denominators_before),
        )
    )
    # One that is on one side alone has the same rate on the other, where it weighs nothing.
    now = np.where(np.isnan(rate), np.nan_to_num(rate_before), rate)
    then = np.where(np.isnan(rate_before), now, rate_before)
    before = float(numerators_before.sum()) / total_before
    by_weight = (share - share_before) * ((now + then) / 2 - before)
    by_rate = (now - then) * (share + share_before) / 2
    # Numerators beside a denominator of 0 have no rate, but are in the whole.
    by_rate = by_rate + np.where(denominators == 0, numerators / total, 0.0)
    by_rate = by_rate - np.where(denominators_before == 0, numerators_before / total_before, 0.0)
    return by_rate, by_weight


def fraction_parts(above: float, below: float, above_before: float, below_before: float) -> Floats:
    """Share the difference of two fractions out among numerator and denominator, shape (2,)."""
    return np.array(
        [
            (above - above_before) / 2 * (1 / below + 1 / below_before),
            (above + above_before) / 2 * (1 / below - 1 / below_before),
        ]
    )


def parts_of_fraction(
    numerators: Floats, denominators: Floats, window: Bools, looked_at: Bools
) -> WhatMadeIt:
    """Tell what the numerator and the denominator of a ratio brought; all shapes (p,).

    Of several periods these are sums by how many there are.
    """
    both = np.stack([numerators, denominators])
    now, before = both[:, looked_at].mean(axis=1), both[:, window].mean(axis=1)
    halves = fraction_parts(*now, *before)
    table = PartTable(Whole.SUM, both, np.ones_like(both))
    nothing = np.zeros(2)
    found = _against_chance(table, window, looked_at, halves, nothing, both[:, window], now, before)
    # What is ordinary for a number is not so for what it brings to the ratio.
    return replace(
        found,
        usual=float(before[0] / before[1]),
        value=float(now[0] / now[1]),
        spread=np.full(2, np.nan),
        stands_out=np.zeros(2, np.bool_),
    )


def what_made_it(table: PartTable, window: Bools, looked_at: Bools) -> WhatMadeIt:
    """Tell what each part brought to the periods looked at, against those of the ``window``.

    Both have shape (p,), and some period each. A part without a value in a period counts with
    nothing there. Raises ValueError where either has no period, or a ratio no denominator.
    """
    if not window.any() or not looked_at.any():
        raise ValueError("both sides take a period")
    compute = {Whole.SUM: _of_sums, Whole.MEAN: _of_means, Whole.RATIO: _of_ratios}
    return compute[table.whole](table, window, looked_at)


def _of_sums(table: PartTable, window: Bools, looked_at: Bools) -> WhatMadeIt:
    amounts = np.nan_to_num(table.amounts)
    before = amounts[:, window].mean(axis=1)
    now = amounts[:, looked_at].mean(axis=1)
    ordinary = amounts[:, window]
    return _against_chance(
        table, window, looked_at, now - before, np.zeros(len(now)), ordinary, now, before
    )


def _of_means(table: PartTable, window: Bools, looked_at: Bools) -> WhatMadeIt:
    amounts, weights = np.nan_to_num(table.amounts), _weights(table)
    totals = weights.sum(axis=0)
    periods = (window | looked_at) & (totals > 0)
    means = np.zeros(len(totals))
    means[periods] = amounts[:, periods].sum(axis=0) / totals[periods]
    inside = window & periods
    usual = float(means[inside].mean())
    shares = np.zeros(weights.shape)
    shares[:, periods] = weights[:, periods] / totals[periods]
    # Around the average of the whole, so that a part which only weighs more brings what it is
    # off that average, and not its whole value.
    parts = np.zeros(weights.shape)
    parts[:, periods] = amounts[:, periods] / totals[periods] - shares[:, periods] * usual
    looked = looked_at & periods
    brought = parts[:, looked].mean(axis=1) - parts[:, inside].mean(axis=1)
    now, before = _mean_of_each(table, looked), _mean_of_each(table, inside)
    found = _against_chance(
        table, inside, looked, brought, np.zeros(len(brought)), parts[:, inside], now, before
    )
    return replace(found, usual=usual, value=float(means[looked].mean()))


def _of_ratios(table: PartTable, window: Bools, looked_at: Bools) -> WhatMadeIt:
    above, below = np.nan_to_num(table.amounts), _weights(table)
    sums = [
        side[:, periods].sum(axis=1) for periods in (looked_at, window) for side in (above, below)
    ]
    by_rate, by_weight = ratio_parts(*sums)
    usual = float(sums[2].sum() / sums[3].sum())
    totals = below[:, window].sum(axis=0)
    some = totals > 0
    # What each part brings in single periods of the window: its rate and weight off the usual.
    ordinary = above[:, window][:, some] - usual * below[:, window][:, some]
    ordinary = ordinary / totals[some]
    now, before = _mean_of_each(table, looked_at), _mean_of_each(table, window)
    found = _against_chance(table, window, looked_at, by_rate, by_weight, ordinary, now, before)
    return replace(found, usual=usual, value=float(sums[0].sum() / sums[1].sum()))


def _weights(table: PartTable) -> Floats:
    """Return the weights of parts that have a value; 0 for those that have none."""
    return np.where(np.isnan(table.amounts), 0.0, np.nan_to_num(table.weights))


def _mean_of_each(table: PartTable, periods: Bools) -> Floats:
    """Return each part's own mean or rate over some periods; NaN where it has none."""
    amounts, weights = np.nan_to_num(table.amounts), _weights(table)
    above, below = amounts[:, periods].sum(axis=1), weights[:, periods].sum(axis=1)
    own = np.full(len(above), np.nan)
    np.divide(above, below, out=own, where=below != 0)
    return own


def _against_chance(
    table: PartTable,
    window: Bools,
    looked_at: Bools,
    rate: Floats,
    weight: Floats,
    ordinary: Floats,
    now: Floats,
    before: Floats,
) -> WhatMadeIt:
    count, n = int(looked_at.sum()), ordinary.shape[1]
    spread = _sigma(ordinary, table.amounts[:, window]) * np.sqrt(1 / count + 1 / max(1, n))
    brought = rate + weight
    # A sigma from few values is unsure itself, and of many parts some are far off by chance.
    degrees = max(1.0, DEGREES_A_RANGE * (n - 1))
    least = max(LEAST_SIGMAS, float(t.ppf(1 - BY_CHANCE / (2 * max(1, len(brought))), degrees)))
    beyond = _beyond(table, window, now, before, count)
    with np.errstate(invalid="ignore"):
        stands_out = np.abs(brought) > least * spread
    return WhatMadeIt(
        float(before.sum()), float(now.sum()), rate, weight, spread, now, before, beyond, stands_out
    )


def _sigma(ordinary: Floats, values: Floats) -> Floats:
    """Return sigma by the moving ranges of each row; NaN for parts of too few ``values``."""
    if ordinary.shape[1] < 2:
        return np.full(len(ordinary), np.nan)
    ranges = np.abs(np.diff(ordinary, axis=1)).mean(axis=1)
    few = (~np.isnan(values)).sum(axis=1) < MIN_VALUES_FOR_LIMITS
    return np.where(few, np.nan, ranges / MEAN_RANGE_PER_SIGMA)


def _beyond(table: PartTable, window: Bools, now: Floats, before: Floats, count: int) -> Floats:
    """Hold each part against its own natural limits, those of averages of ``count`` values."""
    own = table.amounts[:, window]
    if table.whole is not Whole.SUM:
        weights = _weights(table)[:, window]
        own = np.divide(own, weights, out=np.full(own.shape, np.nan), where=weights != 0)
    average, half = np.full(len(own), np.nan), np.full(len(own), np.nan)
    for part, row in enumerate(own):
        values = row[~np.isnan(row)]
        if len(values) >= MIN_VALUES_FOR_LIMITS:
            average[part] = values.mean()
            half[part] = MEAN_RANGE_TO_LIMITS * np.abs(np.diff(values)).mean() / np.sqrt(count)
    if table.whole is Whole.SUM:
        now = np.where(np.isnan(average), np.nan, now)
    with np.errstate(invalid="ignore"):
        above, below = now > average + half, now < average - half
    return np.asarray(above.astype(np.float64) - below)
