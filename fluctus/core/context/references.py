"""Reference values: levels that values are held against, each telling how it is made.

None of them is a limit or the process average: those come from the moving ranges of a
segment, whatever is shown.
"""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from fluctus.core.arrays import Floats


class Statistic(StrEnum):
    """What a reference value is made from."""

    CONSTANT = "constant"
    MEAN = "mean"
    MEDIAN = "median"
    PERCENTILE = "percentile"
    MINIMUM = "minimum"
    MAXIMUM = "maximum"
    SUM = "sum"
    PERCENT_OF_MAXIMUM = "percent_of_maximum"


@dataclass(frozen=True, slots=True)
class Reference:
    """A statistic times ``factor`` plus ``amount``.

    ``number`` is the constant in the KPI's unit, the percentile from 0 to 100, or the percent of
    the maximum; nothing of the others.
    """

    statistic: Statistic
    number: float = 0.0
    factor: float = 1.0
    amount: float = 0.0

    @property
    def is_plain(self) -> bool:
        """Whether it is the statistic itself, neither multiplied nor shifted."""
        return self.factor == 1 and self.amount == 0


def reference_level(reference: Reference, values: Floats) -> float | None:
    """Compute a reference value of ``values``, shape (n,), without NaN; None where there is none.

    Percentiles interpolate linearly between order statistics: R. J. Hyndman and Y. Fan,
    "Sample quantiles in statistical packages", *The American Statistician* 50 (1996) 361-365,
    definition 7.
    """
    if reference.statistic is Statistic.CONSTANT:
        base = reference.number
    elif len(values) == 0:
        return None
    else:
        base = float(_STATISTICS[reference.statistic](values, reference.number))
    return base * reference.factor + reference.amount


_STATISTICS: dict[Statistic, Callable[[Floats, float], float]] = {
    Statistic.MEAN: lambda values, _: float(values.mean()),
    Statistic.MEDIAN: lambda values, _: float(np.median(values)),
    Statistic.PERCENTILE: lambda values, p: float(np.percentile(values, p)),
    Statistic.MINIMUM: lambda values, _: float(values.min()),
    Statistic.MAXIMUM: lambda values, _: float(values.max()),
    Statistic.SUM: lambda values, _: float(values.sum()),
    Statistic.PERCENT_OF_MAXIMUM: lambda values, p: float(values.max()) * p / 100,
}
