"""How much values follow the ones before."""

from typing import Final

from fluctus.core.arrays import Floats

MOST: Final = 0.95
"""Values that follow the ones before more closely say nothing by their number."""


def following(off: Floats) -> float:
    """Return the lag-1 autocorrelation of what is off a mean, shape (n,), from 0 to 0.95.

    Made up for its bias, as that of values about one mean or two.
    """
    n, total = len(off), float(off @ off)
    if n <= 3 or total <= 0:
        return 0.0
    return made_up(float(off[1:] @ off[:-1]) / total, n, spent=3, most=MOST)


def made_up(r: float, n: int, *, spent: int, most: float) -> float:
    """Make up a lag-1 autocorrelation for its bias: (n r + 1) / (n - spent), from 0 to ``most``.

    F. H. C. Marriott and J. A. Pope, *Biometrika* 41 (1954) 390-402.
    """
    return min(most, max(0.0, (n * r + 1) / (n - spent)))
