"""Evidence that the level of values changed, from the order of their ranks.

A run shows that values lie on one side of the average, not that anything changed: one large
value, skewed values, or values that follow the ones before give runs as well. The values are
replaced by the normal scores of their ranks (B. L. van der Waerden, 1952), split where that
gains most (the least-squares split; A. N. Pettitt, *Applied Statistics* 28 (1979) 126-135, for
a change point by ranks), and the gain, made smaller where values follow the ones before, is
held against what random order of the same scores brings 1 time in 100.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np
from scipy.special import ndtri
from scipy.stats import chi2, rankdata

from fluctus.core.analysis.autocorrelation import following
from fluctus.core.arrays import Floats

FEWEST_FOR_EVIDENCE: Final = 8
"""Values that can show a change; fewer have too few orders."""
EDGE: Final = 3
"""Values that a side of a change has at least."""
ORDERS: Final = 2_000
SEED: Final = 1931
BY_CHANCE: Final = 0.01
LOOKED_AT: Final = 20_000
"""Newest values of a stretch that are looked at, so that the orders of a long one can be kept."""
NUMBERS_AT_ONCE: Final = 2_000_000
EXACT: Final = 100
"""Up to so many values each number has a threshold of its own; above, steps of 5 share one."""
FINE: Final = 500
"""Above so many, steps of 50 do: within one, a threshold grows by a hundredth."""
COARSE: Final = 2_000
"""Above so many, the threshold of the next size kept serves: it hardly grows any more."""
KEPT: Final = {
    4_000: 14.920598595254035,
    8_000: 14.684122705094607,
    16_000: 15.151336636588521,
    LOOKED_AT: 15.244850578921303,
}
"""Thresholds of long stretches, from the same simulation: it takes seconds for these."""


@dataclass(frozen=True, slots=True)
class Split:
    """The best split of n values into what was before and what is after.

    ``split_at`` counts the values before it. ``gain`` is what it takes off the sum of squares of
    the scores, in their variance; ``held_gain`` is that of values which do not follow the ones
    before, by ``following``, the lag-1 autocorrelation about the two sides, from 0 to 0.95.
    """

    split_at: int
    gain: float
    following: float
    held_gain: float
    threshold: float

    @property
    def is_evidence(self) -> bool:
        """Whether random order of the same scores gains so much less than 1 time in 100."""
        return self.held_gain > self.threshold


def normal_scores(values: Floats) -> Floats:
    """Return the normal scores of the ranks of ``values``, shape (n,), scaled to variance 1.

    Ties share their mean rank; values that are all equal have scores of 0.
    """
    scores = np.asarray(ndtri((rankdata(values) - 0.5) / len(values)), np.float64)
    deviation = float(scores.std())
    # All equal: what is left of them is no more than rounding.
    return scores / deviation if deviation > 1e-12 else np.zeros(len(values))


def split_gains(scores: Floats) -> Floats:
    """Return what a split before each position takes off the sum of squares, shape (n - 1,).

    The first is of a split after one value: S(k)² n / (k (n - k)).
    """
    n = scores.shape[-1]
    counts = np.arange(1.0, n)
    sums = np.cumsum(scores, axis=-1)
    gains = sums[..., :-1] - counts * (sums[..., -1:] / n)
    # In place: of a million scores most of the time would go into room for what is between.
    gains *= gains
    gains *= n
    gains /= counts * (n - counts)
    return np.asarray(gains)


def best_split(values: Floats) -> Split | None:
    """Weigh the best split of ``values``, shape (n,) in order of time; None with fewer than 8."""
    n = len(values)
    if n < FEWEST_FOR_EVIDENCE:
        return None
    scores = normal_scores(values)
    gains = split_gains(scores)[EDGE - 1 : n - EDGE]
    split_at = int(np.argmax(gains)) + EDGE
    gain = float(gains[split_at - EDGE])
    r = _following(scores, split_at)
    return Split(split_at, gain, r, gain * (1 - r) / (1 + r), threshold(n))


def changes_of(values: Floats) -> list[int]:
    """Return the places of all changes with evidence: of both sides of each, in the same way."""
    first = max(0, len(values) - LOOKED_AT)
    return [first + split_at for split_at in _changes(values[first:])]


def _changes(values: Floats) -> Iterator[int]:
    split = best_split(values)
    if split is None or not split.is_evidence:
        return
    yield from _changes(values[: split.split_at])
    yield split.split_at
    yield from (split.split_at + split_at for split_at in _changes(values[split.split_at :]))


def evidence_at(values: Floats, split_at: int) -> bool:
    """Tell whether there is evidence of a change at a place that was given beforehand.

    The gain at that split alone, against random orders at that split.
    """
    n = len(values)
    if n < FEWEST_FOR_EVIDENCE or not EDGE <= split_at <= n - EDGE:
        return False
    scores = normal_scores(values)
    r = _following(scores, split_at)
    gain = float(split_gains(scores)[split_at - 1]) * (1 - r) / (1 + r)
    return gain > _threshold_at(n, min(split_at, n - split_at))


@lru_cache(maxsize=4096)
def _threshold_at(n: int, split_at: int) -> float:
    """Return the gain at one split that random order of n scores exceeds 1 time in 100.

    Of many scores the sum of some is normal: the gain is then chi-squared with one degree.
    """
    if n > FINE:
        return float(chi2.ppf(1 - BY_CHANCE, 1))
    scores = normal_scores(np.arange(n, dtype=np.float64))
    orders = np.random.default_rng(SEED).permuted(np.tile(scores, (ORDERS, 1)), axis=1)
    sums = orders[:, :split_at].sum(axis=1) - split_at * scores.mean()
    by_chance = sums**2 * n / (split_at * (n - split_at))
    return float(np.quantile(by_chance, 1 - BY_CHANCE))


def _following(scores: Floats, split_at: int) -> float:
    """Compute the lag-1 autocorrelation about the means of two sides, made up for its bias."""
    off = scores.copy()
    off[:split_at] -= off[:split_at].mean()
    off[split_at:] -= off[split_at:].mean()
    # What is no more than rounding follows nothing.
    return following(off) if float(off @ off) > 1e-12 * len(off) else 0.0


def threshold(n: int) -> float:
    """Return the largest gain that random order of n scores exceeds 1 time in 100."""
    if n > COARSE:
        return KEPT[min(size for size in KEPT if size >= min(n, LOOKED_AT))]
    step = 1 if n <= EXACT else 5 if n <= FINE else 50
    return simulated_threshold(-(-n // step) * step)


@lru_cache(maxsize=4096)
def simulated_threshold(n: int) -> float:
    """Simulate the threshold of n scores, by 2,000 random orders."""
    scores = normal_scores(np.arange(n, dtype=np.float64))
    random = np.random.default_rng(SEED)
    largest = np.empty(ORDERS)
    rows = max(1, NUMBERS_AT_ONCE // n)
    for first in range(0, ORDERS, rows):
        count = min(rows, ORDERS - first)
        orders = random.permuted(np.tile(scores, (count, 1)), axis=1)
        gains = split_gains(orders)[:, EDGE - 1 : n - EDGE]
        largest[first : first + count] = gains.max(axis=1)
    return float(np.quantile(largest, 1 - BY_CHANCE))
