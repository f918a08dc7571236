"""What kind of values a series has, where limits by period say little of them."""

from enum import StrEnum
from typing import Final

import numpy as np

from fluctus.core.analysis.series import Series

FEWEST_THAT_HOLD: Final = 6
SHARE_THAT_HOLDS: Final = 0.75


class Nature(StrEnum):
    """Kinds of values that a chart by period says little of."""

    ALL_EQUAL = "all_equal"
    RARE = "rare"
    """More than half are zero and none is below: events too rare to chart by period."""
    HOLDS = "holds"
    """A value stays the same until somebody changes it, as a fee does."""


def nature_of(series: Series) -> Nature | None:
    """Return the kind of the included values of a series; None where they are ordinary.

    Where all are equal, that is what they are; zeros are rare events before values that hold.
    """
    values = series.values if series.complete else series.values[series.included]
    if len(values) < 2:
        return None
    # Most are told by what costs least of a long series.
    if values[0] == values[-1] and bool((values == values[0]).all()):
        return Nature.ALL_EQUAL
    if 2 * np.count_nonzero(values == 0) > len(values) and bool((values >= 0).all()):
        return Nature.RARE
    stays = np.count_nonzero(values[1:] == values[:-1])
    if len(values) >= FEWEST_THAT_HOLD and stays >= SHARE_THAT_HOLDS * (len(values) - 1):
        return Nature.HOLDS
    return None
