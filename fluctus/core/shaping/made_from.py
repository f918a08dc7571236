"""Values made from those of one or two other KPIs, and what is said of their denominators."""

from collections.abc import Callable
from enum import StrEnum
from typing import Final

import numpy as np

from fluctus.core.arrays import Bools, Floats

UNEVEN: Final = 4.0
"""Denominators that differ by more than this factor let small ones swing."""
SMALLEST_SHARE: Final = 0.25


class MadeFrom(StrEnum):
    """How a KPI is made from others."""

    RATIO = "ratio"
    SUM = "sum"
    DIFFERENCE = "difference"
    MULTIPLE = "multiple"
    TIME_BETWEEN = "time_between"


def ratio(numerators: Floats, denominators: Floats, times: float) -> Floats:
    """Return numerators / denominators x ``times``, shape (n,); NaN by a denominator of 0."""
    result = np.full(len(numerators), np.nan)
    np.divide(numerators * times, denominators, out=result, where=denominators != 0)
    return result


Formula = Callable[[Floats, Floats, float], Floats]
FORMULAS: Final[dict[MadeFrom, Formula]] = {
    MadeFrom.RATIO: ratio,
    MadeFrom.SUM: lambda first, second, times: first + second,
    MadeFrom.DIFFERENCE: lambda first, second, times: first - second,
    MadeFrom.MULTIPLE: lambda first, second, times: first * times,
}
"""Values from those of the first and of the second KPI, in the same periods, and a number."""


def above_whole(numerators: Floats, denominators: Floats) -> Bools:
    """Tell where a part is more than its whole, beyond rounding; shape (n,)."""
    return np.asarray(numerators > denominators + 1e-9 * np.abs(denominators))


def small_denominators(denominators: Floats, window: Bools) -> Bools | None:
    """Tell which of n periods have so small a denominator that their ratio swings more.

    ``window`` (n,) are the periods that the limits come from. None where their largest denominator
    is not over four times their smallest; else those no larger than the smallest quarter of them.
    """
    own = np.abs(denominators[window & ~np.isnan(denominators)])
    if len(own) < 2 or own.max() <= UNEVEN * own.min():
        return None
    return np.asarray(np.abs(denominators) <= np.quantile(own, SMALLEST_SHARE))
