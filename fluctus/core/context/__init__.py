"""What stands beside an analysis: comparisons of its segments.

What others use of it is named here, and reached from here alone.
"""

from fluctus.core.context.comparison import level_of
from fluctus.core.context.going_together import GoesWith, go_together
from fluctus.core.context.pairs import (
    LONGEST_LAG,
    LagPoint,
    Numbered,
    PairLine,
    Pairs,
    lag_curve,
    line_through,
    pair_up,
    without_season,
    without_trend,
)
from fluctus.core.context.references import Reference, Statistic, reference_level
from fluctus.core.context.smoothing import (
    Windows,
    group_means,
    last_stretch,
    last_values,
    moving_average,
    moving_deviation,
    trend_line,
)
from fluctus.core.context.summary import Summary, summarise_values
from fluctus.core.context.target import MeetsTarget, between, target_of

__all__ = [
    "LONGEST_LAG",
    "GoesWith",
    "LagPoint",
    "MeetsTarget",
    "Numbered",
    "PairLine",
    "Pairs",
    "Reference",
    "Statistic",
    "Summary",
    "Windows",
    "between",
    "go_together",
    "group_means",
    "lag_curve",
    "last_stretch",
    "last_values",
    "level_of",
    "line_through",
    "moving_average",
    "moving_deviation",
    "pair_up",
    "reference_level",
    "summarise_values",
    "target_of",
    "trend_line",
    "without_season",
    "without_trend",
]
