"""A value far off: a slip of the pen, another unit, or something extraordinary; asked about first.

The distance is held against the median distance from the median (F. R. Hampel, *JASA* 69 (1974)
383-393), which a few such values do not move.
"""

from typing import Final

import numpy as np

from fluctus.core.arrays import Floats, Ints, median_reaches

FEWEST: Final = 10
TIMES: Final = 10.0
"""So many times the spread of the others away is far off."""
DEVIATION_OF_NORMAL: Final = 1.4826
"""Makes the median distance from the median the standard deviation, where values are normal."""
MOST: Final = 3
ONE_IN: Final = 20
"""More than 3 of them, or more than 1 in 20, are the shape of the data."""


def far_off(values: Floats) -> Ints:
    """Return the places of the values far off the others, of ``values`` of shape (n,)."""
    nothing = np.empty(0, np.intp)
    if len(values) < FEWEST:
        return nothing
    distances = np.abs(values - np.median(values))
    furthest = distances.max()
    if not furthest or median_reaches(distances, furthest / (TIMES * DEVIATION_OF_NORMAL)):
        return nothing
    different = np.unique(values)
    spread = DEVIATION_OF_NORMAL * float(np.median(distances))
    found = np.flatnonzero(distances > TIMES * max(spread, float(np.diff(different).min())))
    most = min(MOST, max(1, len(values) // ONE_IN))
    return found.astype(np.intp) if len(found) <= most else nothing
