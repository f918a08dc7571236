"""Scaling factors for charts of individual values and moving ranges of two.

They turn a moving range into natural process limits, through the bias
corrections of ranges of two normal values: d2 = 1.128 for the mean range,
d4 = 0.954 for the median range, D4 = 3.268 for the upper range limit.

Sources: D. J. Wheeler and D. S. Chambers, *Understanding Statistical Process
Control*, 2nd ed. (SPC Press, 1992), table A.2 and chapter 3; E. L. Grant and
R. S. Leavenworth, *Statistical Quality Control*, 7th ed. (McGraw-Hill, 1996),
appendix table B.
"""

from typing import Final

MEAN_RANGE_PER_SIGMA: Final = 1.128
"""Mean moving range of a process with a standard deviation of 1: d2."""

MEAN_RANGE_TO_LIMITS: Final = 2.660
"""Half the width of the limits per unit of mean moving range: 3 / d2."""

MEAN_RANGE_TO_RANGE_LIMIT: Final = 3.268
"""Upper range limit per unit of mean moving range: D4."""

MEDIAN_RANGE_TO_LIMITS: Final = 3.145
"""Half the width of the limits per unit of median moving range: 3 / d4."""

MEDIAN_RANGE_TO_RANGE_LIMIT: Final = 3.865
"""Upper range limit per unit of median moving range."""

MIN_VALUES_FOR_LIMITS: Final = 5
"""With fewer included values in the limit window there is a centre, but no limits."""

MIN_VALUES_FOR_FIRM_LIMITS: Final = 17
"""From this many included values on the limits are firm; below, provisional."""

TIE_TOLERANCE: Final = 1e-9
"""Two numbers nearer than this share of the larger magnitude are a tie."""
