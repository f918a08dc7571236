"""What chance alone would bring: findings among the same values in random order."""

from dataclasses import replace
from functools import lru_cache
from typing import Final

import numpy as np

from fluctus.core.analysis.analyse import Analysis, analyse
from fluctus.core.analysis.rules import Rule
from fluctus.core.analysis.series import Series
from fluctus.core.analysis.settings import SegmentSettings, Settings
from fluctus.core.arrays import Floats, taken
from fluctus.core.judgment.happenings import happenings_of

ORDERS: Final = 200
SEED: Final = 1924
NEWEST: Final = 2_000
"""Of a longer segment so many stand for all."""


def findings_by_chance(analysis: Analysis, number: int, raising: frozenset[Rule]) -> float:
    """Return the mean number of findings in 200 random orders of a segment's included values.

    Limits are worked out anew for each order. ``raising`` are the rules whose signals are
    findings. Skewed values and counts are so held against themselves. With limits that follow a
    trend or a season the orders are of what they leave.
    """
    chosen = analysis.settings.segments[number]
    values = taken(analysis.adjusted, analysis.included_in(number))
    settings = replace(
        analysis.settings,
        segments=(SegmentSettings(centre=chosen.centre, spread=chosen.spread),),
    )
    newest = values[-NEWEST:]
    if not len(newest) or not raising:
        return 0.0
    mean = _mean_findings(newest.tobytes(), settings, raising)
    return mean * len(values) / len(newest)


@lru_cache(maxsize=256)
def _mean_findings(raw: bytes, settings: Settings, raising: frozenset[Rule]) -> float:
    values: Floats = np.frombuffer(raw)
    n = len(values)
    orders = np.random.default_rng(SEED).permuted(np.tile(values, (ORDERS, 1)), axis=1)
    # Each order is a segment of one series: all of them cost about what one long series does.
    (chosen,) = settings.segments
    many = replace(
        settings, segments=tuple(replace(chosen, start=n * order) for order in range(ORDERS))
    )
    shuffled = analyse(Series(orders.ravel()), many)
    return float(np.count_nonzero(happenings_of(shuffled).raised_by(raising))) / ORDERS
