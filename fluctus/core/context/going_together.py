"""Which of many series go together beyond chance, and how much later one follows another.

All pairs are looked at with every lag, and are held against that many looks: the correlation of
ranks, which a few far values do not make (C. Spearman, *American Journal of Psychology* 15 (1904)
72-101), by Student's t with the n of pairs that are independent (M. S. Bartlett, *JRSS* 98 (1935)
536-543), and the bound of C. E. Bonferroni.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.stats import rankdata, t

from fluctus.core.analysis.autocorrelation import following
from fluctus.core.analysis.ties import varies
from fluctus.core.arrays import Floats
from fluctus.core.context.pairs import LONGEST_LAG, Numbered

FEWEST_PAIRS: Final = 24
FEWEST_EFFECTIVE: Final = 8
VANISHING: Final = 1e-12
PERFECT: Final = 1 - 1e-12
CHANCE: Final = 0.01
"""That chance alone shows any such pair among all that are looked at, at most."""
NEWEST: Final = 520
"""Periods that are looked at, at most."""


@dataclass(frozen=True, slots=True)
class GoesWith:
    """Two of several series, by their number: the second follows the first by ``lag`` periods.

    ``correlation`` is that of ranks over ``n`` pairs; ``chance`` is that of any such pair.
    """

    first: int
    second: int
    lag: int
    n: int
    correlation: float
    chance: float


def go_together(series: Sequence[Numbered], longest: int = LONGEST_LAG) -> list[GoesWith]:
    """Return the pairs of series that go together beyond chance, the least likely first.

    Each pair once, at the lag that chance would show most seldom. Levels that a series went
    through and lines that it follows are to be taken out of it before.
    """
    grid, followings = _on_one_grid(series)
    looks = [_with_lag(grid, followings, lag) for lag in range(longest + 1)]
    # Where nothing is looked at, nothing is found; infinity times none would be no number.
    count = max(1, sum(each.looks for each in looks))
    best: dict[frozenset[int], GoesWith] = {}
    for lag, look in enumerate(looks):
        for first, second in np.argwhere(look.chances * count < CHANCE).tolist():
            chance, pair = float(look.chances[first, second]) * count, frozenset((first, second))
            if pair not in best or chance < best[pair].chance:
                n, r = int(look.counts[first, second]), float(look.correlations[first, second])
                best[pair] = GoesWith(first, second, lag, n, r, chance)
    return sorted(best.values(), key=lambda each: (each.chance, -abs(each.correlation), each.lag))


def _on_one_grid(series: Sequence[Numbered]) -> tuple[Floats, Floats]:
    """Return ranks about their middle by period, shape (s, t), NaN where there is no value.

    And how much each series follows itself, shape (s,). One that does not vary has none at all.
    """
    last = max((int(one.periods[-1]) for one in series if len(one.periods)), default=0)
    first = max(
        last - NEWEST + 1,
        min((int(one.periods[0]) for one in series if len(one.periods)), default=0),
    )
    grid = np.full((len(series), last - first + 1), np.nan)
    followings = np.zeros(len(series))
    for number, one in enumerate(series):
        recent = one.periods >= first
        values = one.values[recent]
        if len(values) < FEWEST_PAIRS or not varies(values):
            continue
        ranks = rankdata(values)
        ranks = (ranks - ranks.mean()) / len(ranks)
        grid[number, one.periods[recent] - first] = ranks
        followings[number] = following(ranks)
    return grid, followings


@dataclass(frozen=True, slots=True)
class _Look:
    """Each of s series with each other one at a lag, shape (s, s): the second is the later one.

    ``chances`` are those of one look, infinite where there is nothing to look at.
    """

    counts: Floats
    correlations: Floats
    chances: Floats

    @property
    def looks(self) -> int:
        """How many pairs were looked at."""
        return int(np.count_nonzero(np.isfinite(self.chances)))


def _with_lag(grid: Floats, followings: Floats, lag: int) -> _Look:
    """Correlate each series with each other one so many periods later."""
    length = max(0, grid.shape[1] - lag)
    x, y = grid[:, :length], grid[:, grid.shape[1] - length :]
    there_x, there_y = (~np.isnan(side) * 1.0 for side in (x, y))
    x, y = np.nan_to_num(x), np.nan_to_num(y)
    n = there_x @ there_y.T
    sum_x, sum_y = x @ there_y.T, there_x @ y.T
    above = n * (x @ y.T) - sum_x * sum_y
    below = (n * (x**2 @ there_y.T) - sum_x**2) * (n * (there_x @ (y**2).T) - sum_y**2)
    both = np.outer(followings, followings)
    effective = n * (1 - both) / (1 + both)
    wanted = (n >= FEWEST_PAIRS) & (below > VANISHING) & (effective > FEWEST_EFFECTIVE)
    # Without a lag each pair is there twice; and nothing is held against itself.
    wanted &= np.triu(np.ones_like(wanted), 1) if not lag else ~np.eye(len(grid), dtype=np.bool_)
    r = np.clip(above / np.sqrt(np.where(wanted, below, 1.0)), -PERFECT, PERFECT)
    free = np.where(wanted, effective - 2, 1.0)
    distance = np.abs(r) * np.sqrt(free / (1 - r**2))
    return _Look(n, r, np.where(wanted, 2 * t.sf(distance, free), np.inf))
