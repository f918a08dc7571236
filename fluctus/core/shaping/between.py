"""The time between events that are too rare to chart by period.

Source: D. J. Wheeler, *Understanding Variation*, 2nd ed. (SPC Press, 2000), on rare events.
"""

import numpy as np

from fluctus.core.arrays import Floats, Ints


def time_between(numbers: Ints, counts: Ints) -> tuple[Ints, Floats]:
    """Return for each event but the first its period and how far it is from the one before.

    ``numbers`` (n,) number the periods in order of time, such as days since some day;
    ``counts`` (n,) say how many events there were in each. Returns places among these,
    shape (events - 1,), and periods apart; two events in one period are 0 apart.
    """
    places = np.repeat(np.arange(len(numbers)), np.maximum(counts, 0))
    apart = np.diff(numbers[places]).astype(np.float64)
    return places[1:], apart
