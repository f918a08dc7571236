"""How much values follow the ones before."""

from typing import Final

from fluctus.core.arrays import Floats

MOST: Final = 0.95
"""Values that follow the ones before more closely say nothing by their number."""


def following(off: Floats) -> float:
    """Return the lag-1 autocorrelation of what is off a mean, shape (n,), made up for its bias.

    That is (n r + 1) / (n - 3), held within 0 and 0.95: F. H. C. Marriott and J. A. Pope,
    *Biometrika* 41 (1954) 390-402, for the bias of r in a short series.
    """
    n, total = len(off), float(off @ off)
    if n <= 3 or total <= 0:
        return 0.0
    r = float(off[1:] @ off[:-1]) / total
    return min(MOST, max(0.0, (n * r + 1) / (n - 3)))
