"""Values made from values: aggregation, differences, thinning.

What others use of it is named here, and reached from here alone.
"""

from fluctus.core.shaping.aggregation import AGGREGATION_NAMES, Aggregation
from fluctus.core.shaping.between import time_between
from fluctus.core.shaping.made_from import FORMULAS, MadeFrom, above_whole, small_denominators
from fluctus.core.shaping.thinning import thin

__all__ = [
    "AGGREGATION_NAMES",
    "FORMULAS",
    "Aggregation",
    "MadeFrom",
    "above_whole",
    "small_denominators",
    "thin",
    "time_between",
]
