"""The least-squares search for changes of level.

By ruptures: C. Truong, L. Oudre and N. Vayatis, "Selective review of offline
change point detection methods", *Signal Processing* 167 (2020); the search is
that of R. Killick, P. Fearnhead and I. Eckley, *JASA* 107 (2012) 1590-1598.
"""

import math
from typing import Final

import ruptures

from fluctus.core.analysis.constants import MIN_VALUES_FOR_LIMITS
from fluctus.core.arrays import Floats

PENALTY: Final = 3.0
"""Each change must lower the sum of squares by this many times sigma² ln n, half as much
again as the criterion of Y.-C. Yao, *Statistics & Probability Letters* 6 (1988) 181-189."""


def change_points(values: Floats, sigma: float) -> list[int]:
    """Return where the level of ``values``, shape (n,), changes: the first of each new level.

    ``sigma`` is that of values whose level stays. Levels of fewer than 5
    values are not looked for.
    """
    if len(values) < 2 * MIN_VALUES_FOR_LIMITS:
        return []
    search = ruptures.KernelCPD(kernel="linear", min_size=MIN_VALUES_FOR_LIMITS)
    penalty = PENALTY * sigma**2 * math.log(len(values))
    # The search works in single steps of the values, so a common level is taken off first.
    *changes, _ = search.fit((values - values.mean())[:, None]).predict(pen=penalty)
    return [int(change) for change in changes]
